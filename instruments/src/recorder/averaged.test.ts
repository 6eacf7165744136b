import { averageReadings } from './averaged.ts';

test('mean and sample standard deviation of what was shown, volts and amperes apart', () => {
  const shown = [1, 2, 3, 4].map((k) => ({ t: k, v: 4, i: k }));
  const { readings, volts, amps } = averageReadings(shown);
  expect(readings).toBe(4);
  expect(volts).toEqual({ mean: 4, spread: 0 });
  expect(amps.mean).toBe(2.5);
  expect(amps.spread).toBeCloseTo(Math.sqrt(5 / 3), 12);
});
