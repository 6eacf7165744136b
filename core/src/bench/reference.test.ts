import fc from 'fast-check';
import { compareReading, type Comparable } from './reference.ts';

const diode = (value: number | null, over: Partial<Comparable> = {}): Comparable => ({
  mode: 'diode',
  value,
  ol: value === null,
  redProbe: 'ground',
  ...over,
});

test.each<[number, string, boolean]>([
  [0.41, 'alike', false],
  [0.25, 'below', false],
  [0.12, 'much lower', true],
  [0.01, 'short', true],
  [0.7, 'above', false],
  [1.4, 'much higher', true],
])('%f V against 0.41 V: %s', (value, word, isTelling) => {
  expect(compareReading(diode(value), diode(0.41))).toMatchObject({ word, isTelling });
});

test('readings with the probes the other way round, or of another mode, are never compared', () => {
  expect(compareReading(diode(0.1, { redProbe: 'point' }), diode(0.4))).toMatchObject({
    word: 'not comparable',
    ratio: null,
    says: expect.stringMatching(/Swap the probes/) as string,
  });
  expect(compareReading(diode(0.1, { redProbe: null }), diode(0.4)).word).toBe('not comparable');
  expect(compareReading(diode(0.1), { ...diode(0.4), mode: 'resistance' }).word).toBe('not comparable');
});

test('an open line is a finding only where the good board is not open', () => {
  expect(compareReading(diode(null), diode(0.4))).toMatchObject({ word: 'open', isTelling: true });
  expect(compareReading(diode(null), diode(null))).toMatchObject({ word: 'open on both', isTelling: false });
  expect(compareReading(diode(0.2), diode(null))).toMatchObject({ isTelling: true });
});

test('voltages are regulated: they are held closer, whichever probe', () => {
  const volts = (value: number): Comparable => ({ mode: 'voltage', value, ol: false, redProbe: null });
  expect(compareReading(volts(1.79), volts(1.8))).toMatchObject({ word: 'alike', isTelling: false });
  expect(compareReading(volts(1.2), volts(1.8))).toMatchObject({ word: 'below', isTelling: true });
  expect(compareReading(volts(0.1), volts(1.8)).word).toBe('much lower');
  expect(compareReading(volts(3.3), volts(1.8)).word).toBe('much higher');
});

test('the lower of two readings is never called higher', () => {
  const order = ['short', 'much lower', 'below', 'alike', 'above', 'much higher'];
  const some = fc.double({ min: 0.001, max: 3, noNaN: true });
  fc.assert(
    fc.property(some, some, some, (a, b, good) => {
      const [low, high] = [Math.min(a, b), Math.max(a, b)].map((x) =>
        order.indexOf(compareReading(diode(x), diode(good)).word),
      );
      expect(low).toBeLessThanOrEqual(high);
    }),
  );
});
