import { leavesBand } from './band.ts';
import { voltageSteps } from './plot.ts';

const preview = (mean: (number | null)[], volts: (number | null)[] = mean.map(() => 4)) => ({
  t0: 0,
  t1: mean.length,
  low: mean,
  mean,
  high: mean,
  volts,
});
const band = (n: number, low: number, high: number) => ({
  low: Array<number>(n).fill(low),
  high: Array<number>(n).fill(high),
});

describe('leaving the band', () => {
  test('is placed where it begins', () => {
    const run = [...Array<number>(60).fill(0.3), ...Array<number>(60).fill(0.05)];
    expect(leavesBand(preview(run), band(120, 0.2, 1), 0.001)).toBe(60);
  });
  test('a short dip does not count', () => {
    const run = Array<number>(120).fill(0.3).fill(0.05, 40, 42);
    expect(leavesBand(preview(run), band(120, 0.2, 1), 0.001)).toBeNull();
  });
  test('a hair’s breadth does not count', () =>
    expect(leavesBand(preview(Array<number>(120).fill(1.02)), band(120, 0.2, 1), 0.01)).toBeNull());
  test('absent readings leave nothing', () =>
    expect(leavesBand(preview(Array<null>(50).fill(null)), band(50, 0, 1), 0.001)).toBeNull());
});

describe('voltage labels', () => {
  test('one for each level that holds', () => {
    const volts = [...Array<number>(40).fill(5), ...Array<number>(40).fill(9), ...Array<number>(80).fill(20)];
    expect(voltageSteps(preview(volts, volts)).map((s) => s.label)).toEqual(['5.00 V', '9.00 V', '20.0 V']);
  });
  test('one level is steady', () =>
    expect(voltageSteps(preview(Array<number>(80).fill(4)))[0].label).toBe('4.00 V, steady'));
  test('no voltage, no label', () =>
    expect(voltageSteps(preview(Array<number>(8).fill(1), Array<null>(8).fill(null)))).toEqual([]));
});
