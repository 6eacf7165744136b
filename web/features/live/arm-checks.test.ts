import { setupFormOf, type SetupForm } from '@/features/record/setup-form';
import { armChecks, type ArmFacts } from './arm-checks';

const facts: ArmFacts = {
  maxV: 4.4,
  maxA: 3,
  why: 'full battery of this model',
  healthyPeakA: 1.2,
  watchesItself: true,
  chargerV: null,
};
const form = (change: Partial<SetupForm>): SetupForm => ({
  ...setupFormOf(null),
  setV: '3.85 V',
  limitA: '2 A',
  battery: 'disconnected',
  ...change,
});
const tones = (change: Partial<SetupForm>): string =>
  armChecks(form(change), facts)
    .map((c) => c.tone)
    .join(' ');
const says = (change: Partial<SetupForm>): string =>
  armChecks(form(change), facts)
    .map((c) => c.says)
    .join(' ');

describe('before the output is armed', () => {
  test('what eyes have to look at is named, what numbers can tell is told', () =>
    expect(tones({})).toBe('look look fine fine fine'));

  test('a battery that is not out stands in the way, at the battery’s place only', () => {
    expect(tones({ battery: 'connected' })).toBe('look stop fine fine fine');
    expect(tones({ battery: null })).toBe('look stop fine fine fine');
    expect(tones({ battery: 'absent' })).toBe('look look fine fine fine');
    expect(tones({ feed: 'dc-in', battery: 'connected' })).toBe('look fine fine fine');
    expect(says({ feed: 'dc-in' })).toContain('the input socket');
  });

  test('a charger that is plugged in stands in the way of a supply in place of the battery, and of nothing else', () => {
    const withCharger = (change: Partial<SetupForm>) => armChecks(form(change), { ...facts, chargerV: 5.02 });
    expect(withCharger({}).map((c) => c.tone)).toEqual(['look', 'stop', 'fine', 'fine', 'fine']);
    expect(withCharger({})[1].says).toContain('the meter reads 5.02 V. Unplug it first.');
    expect(withCharger({ feed: 'dc-in' }).every((c) => c.tone !== 'stop')).toBe(true);
    expect(says({})).toContain('no charger is plugged in');
  });

  test('values that will be cut are said with the reason, and values that are none stand in the way', () => {
    expect(says({ setV: '12 V' })).toContain('12.0 V will be reduced to 4.40 V: full battery of this model.');
    expect(says({ limitA: '5 A' })).toContain('5.00 A will be reduced to 3.00 A');
    expect(tones({ setV: '' })).toBe('look look stop fine fine');
    expect(tones({ setV: '2 A' })).toBe('look look stop fine fine');
    expect(tones({ limitA: '0 A' })).toBe('look look fine stop fine');
  });

  test('a limit under what a healthy start draws would look like a short', () => {
    expect(says({ limitA: '500 mA' })).toMatch(/A healthy start draws up to 1\.20 A\. With 500 mA .* short/);
    const unknown = armChecks(form({ limitA: '500 mA' }), { ...facts, healthyPeakA: null });
    expect(unknown.at(-2)?.tone).toBe('fine');
  });
});

test('a supply that cannot switch off by itself is said to be so, in one line', () => {
  const alone = armChecks(form({}), { ...facts, watchesItself: false }).at(-1);
  expect(alone).toEqual({
    tone: 'look',
    says: 'This supply cannot switch itself off. If this computer crashes, use the switch on the supply.',
  });
});
