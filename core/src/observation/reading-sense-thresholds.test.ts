import type { Reading } from '../case/index.ts';
import { readingOf } from '../testing/cases.ts';
import { isAcross, nominalOf, senseOf } from './reading-sense.ts';
import rules from './readings.json';

/** A hair under and over a threshold: what is told apart there, and nowhere else. */
const under = (x: number): number => x * (1 - 1e-9);
const over = (x: number): number => x * (1 + 1e-9);

const word = (reading: Partial<Reading> & Pick<Reading, 'mode' | 'value'>): string => {
  const sense = senseOf(readingOf({ circuit: 'rail.run', ...reading }));
  return sense.of === 'nothing' ? 'nothing' : sense.word;
};
const ohm = (value: number | null, more: Partial<Reading> = {}): string => word({ mode: 'resistance', value, ...more });
const diode = (value: number | null, more: Partial<Reading> = {}): string => word({ mode: 'diode', value, ...more });
const volt = (value: number | null, more: Partial<Reading> = {}): string => word({ mode: 'voltage', value, ...more });

const core = { circuit: 'core.soc' } as const;
const standby = { circuit: 'rail.standby' } as const;

test.each<[says: string, low: string, threshold: number, high: string, of: (x: number) => string]>([
  ['a hard short', 'short', rules.hardShortOhm, 'low', (x) => ohm(x)],
  ['a partial one, where it counts', 'short', rules.partialOhm, 'normal', (x) => ohm(x, standby)],
  ['a partial one elsewhere', 'low', rules.partialOhm, 'normal', (x) => ohm(x)],
  ['a core rail without a good board', 'short', rules.coreShortOhm, 'nothing', (x) => ohm(x, core)],
  [
    'a core rail against one',
    'short',
    rules.coreShortOhm,
    'low',
    (x) => ohm(x, { ...core, reference: 10 * rules.coreShortOhm }),
  ],
  ['far below the good board', 'low', rules.tellingRatio, 'normal', (x) => ohm(900 * x, { reference: 900 })],
  ['a fraction of it', 'short', rules.shortRatio, 'low', (x) => ohm(2000 * x, { reference: 2000 })],
  ['far above it', 'normal', rules.openRatio, 'high', (x) => ohm(100 * x, { reference: 100 })],
  [
    'a partial short below the good board',
    'short',
    rules.partialOhm,
    'low',
    (x) => ohm(x, { ...standby, reference: 8 * rules.partialOhm }),
  ],
  ['a plain short in diode mode', 'short', rules.diodeShortV, 'nothing', (x) => diode(x)],
  ['a drop far below', 'low', rules.tellingRatio, 'normal', (x) => diode(0.6 * x, { reference: 0.6 })],
  ['a drop far above', 'normal', rules.openRatio, 'high', (x) => diode(0.3 * x, { reference: 0.3 })],
  ['a missing rail', 'missing', rules.missingRatio, 'low', (x) => volt(3.3 * x, { reference: 3.3 })],
  ['a low one', 'low', rules.lowRatio, 'present', (x) => volt(3.3 * x, { reference: 3.3 })],
  ['one that is too high', 'present', rules.highRatio, 'high', (x) => volt(5 * x, { reference: 5 })],
  ['nothing where nobody said what should stand', 'missing', rules.missingV, 'nothing', (x) => volt(x)],
  ['something there', 'nothing', rules.presentV, 'present', (x) => volt(x)],
  ['a line that should be at nothing', 'present', rules.presentV, 'high', (x) => volt(x, { reference: 0 })],
  ['a part that conducts', 'conducts', rules.conductsBelowOhm, 'open', (x) => ohm(x, { across: true })],
])('%s: %s up to %d, then %s', (_, low, threshold, high, of) => {
  expect([of(under(threshold)), of(over(threshold))]).toEqual([low, high]);
});

describe('what keeps a reading from meaning more than it does', () => {
  test('a high reading tells only where a good board is low itself', () => {
    const far = 2 * rules.openRatio;
    expect(ohm(far * under(rules.openReferenceOhm), { reference: under(rules.openReferenceOhm) })).toBe('high');
    expect(ohm(far * rules.openReferenceOhm, { reference: rules.openReferenceOhm })).toBe('normal');
  });

  test('a core rail that drops little on a good board too is no short in diode mode', () => {
    const little = under(rules.diodeShortV);
    expect(diode(little, { ...core, reference: little })).toBe('normal');
    expect(diode(little, { ...core, reference: over(little / rules.tellingRatio) })).toBe('short');
    expect(diode(little, core)).toBe('short');
    expect(diode(little, { reference: little })).toBe('short');
  });

  test('a good board that read nothing or below is none', () => {
    expect(diode(0.4, { reference: 0 })).toBe(diode(0.4));
    expect(diode(0.4, { reference: -0.2 })).toBe(diode(0.4));
    expect(ohm(400, { reference: 0, across: false, ...core })).toBe('nothing');
  });

  test('a voltage a little above a small rail is no fault: what it is above by counts as well', () => {
    expect(volt(0.8 * over(rules.highRatio), { reference: 0.8 })).toBe('present');
    expect(volt(0.8 + over(rules.highFromV), { reference: 0.8 })).toBe('high');
  });

  test('an open line is said by what was measured', () => {
    expect(ohm(null, { ol: true, across: true })).toBe('open');
    expect(ohm(0.3, { ol: true, across: true })).toBe('open');
    expect(ohm(null, { across: true })).toBe('open');
    expect(diode(null, { ol: true, reference: 0.4 })).toBe('high');
    expect(diode(0.4, { ol: true, reference: 0.4 })).toBe('high');
    expect(volt(null, { ol: true })).toBe('nothing');
    expect(volt(3.3, { ol: true, reference: 3.3 })).toBe('nothing');
    expect(volt(null)).toBe('nothing');
  });
});

describe('a part that should conduct', () => {
  test('is told by its good board, except on a core rail, where low is usual', () => {
    const reference = under(rules.conductorReferenceOhm);
    expect(isAcross(readingOf({ mode: 'resistance', value: 1, circuit: 'rail.run', reference }))).toBe(true);
    expect(isAcross(readingOf({ mode: 'resistance', value: 1, circuit: null, reference }))).toBe(true);
    expect(
      isAcross(readingOf({ mode: 'resistance', value: 1, reference: rules.conductorReferenceOhm, circuit: null })),
    ).toBe(false);
    expect(isAcross(readingOf({ mode: 'resistance', value: 1, ...core, reference }))).toBe(false);
    expect(isAcross(readingOf({ mode: 'diode', value: 0, circuit: null, reference: 0, across: true }))).toBe(false);
  });

  test('conducts no more where it reads many times its good board', () => {
    const reference = 0.5;
    const most = rules.conductorRatio * reference;
    expect(most).toBeLessThan(rules.conductsBelowOhm);
    expect(most).toBeGreaterThan(rules.conductorReferenceOhm);
    expect(ohm(under(most), { across: true, reference })).toBe('conducts');
    expect(ohm(most, { across: true, reference })).toBe('open');
    // What hardly reads anything on a good board may read a little more.
    expect(ohm(under(rules.conductorReferenceOhm), { across: true, reference: 1e-4 })).toBe('conducts');
  });
});

describe('a voltage that swings', () => {
  const swing = (low: number, high: number, more: Partial<Reading> = {}): string =>
    volt((low + high) / 2, { swing: { low, high }, ...more });
  test('is a rail that comes and goes, unless its lowest is still enough', () => {
    expect(swing(0.2, 3.3, { reference: 3.3 })).toBe('swings');
    expect(swing(under(rules.lowRatio) * 3.3, 3.6, { reference: 3.3 })).toBe('swings');
    expect(swing(rules.lowRatio * 3.3, 3.6, { reference: 3.3 })).toBe('present');
    expect(swing(1, 3)).toBe('swings');
    expect(swing(-1, 1, { reference: 0 })).toBe('swings');
  });
  test('by a few per cent of what stands there is none', () => {
    const little = 10 * under(rules.swingShare);
    expect(swing(10 - little, 10, { reference: 10 })).toBe('present');
    // A small swing of a line that should be high is judged by what it should be.
    expect(swing(0.1, 0.3, { reference: 10 })).toBe('missing');
    expect(swing(0.1, 0.1 + over(rules.swingShare) * 10, { reference: 10 })).toBe('swings');
  });
});

describe('a device that nobody asked to start', () => {
  const off = { reference: 1.8, prompted: false } as const;
  test('owes no rail of the running state', () => {
    for (const state of ['run', 'S0', 'boot'] as const) {
      expect(volt(0, { ...off, state })).toBe('nothing');
      expect(volt(1, { ...off, state })).toBe('nothing');
      expect(volt(1.8, { ...off, state })).toBe('present');
      expect(volt(3.6, { ...off, state })).toBe('high');
    }
  });
  test('owes those that are always there, and one that was asked owes them all', () => {
    expect(volt(0, { ...off, state: 'G3' })).toBe('missing');
    expect(volt(0, { ...off, state: null })).toBe('missing');
    expect(volt(0, { reference: 1.8, prompted: true, state: 'run' })).toBe('missing');
    expect(volt(0, { reference: 1.8, prompted: null, state: 'run' })).toBe('missing');
  });
});

describe('what a rail should carry', () => {
  const named = (where: string, more: Partial<Reading> = {}): number | null =>
    nominalOf(readingOf({ where, mode: 'voltage', value: 1, circuit: null, ...more }), { mainV: 11.4 });
  test.each([
    ['standby 3.3 V', 3.3],
    ['1,8V', 1.8],
    ['12 v rail', 12],
    ['0.95 V core', 0.95],
    ['1v8', null],
    ['coil 3', null],
    ['rail 3V3', null],
  ])('%s: %p', (where, expected) => {
    expect(named(where)).toBe(expected);
  });
  test('a good board goes before the name, the name before what is stated of the unit', () => {
    expect(named('3.3 V', { reference: 3.2 })).toBe(3.2);
    expect(named('3.3 V', { reference: 400, mode: 'resistance' })).toBe(3.3);
    expect(named('main', { circuit: 'rail.main' })).toBe(11.4);
    expect(named('3.3 V', { circuit: 'rail.main' })).toBe(3.3);
    expect(named('main')).toBeNull();
    expect(nominalOf(readingOf({ where: 'main', mode: 'voltage', value: 1, circuit: 'rail.main' }), {})).toBeNull();
  });
});
