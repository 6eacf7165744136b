import fc from 'fast-check';
import type { Preview } from '@/server/record/rows/run-rows';
import { referenceBand } from './reference-band';

const preview = (levels: (number | null)[], seconds = 10): Preview => ({
  t0: 0,
  t1: seconds,
  low: levels,
  mean: levels,
  high: levels,
  volts: levels.map(() => 4),
});
const step = (at: number, amps: number, n = 100): (number | null)[] =>
  Array.from({ length: n }, (_, k) => (k < at ? 0 : amps));
const reference = (levels: (number | null)[], anchorT: number, prompted = true) => ({
  runId: 1,
  preview: preview(levels),
  anchorT,
  prompted,
});

describe('the band of reference runs', () => {
  test('is moved so that the presses fall together', () => {
    const band = referenceBand(preview(step(60, 0.3)), 6, [reference(step(20, 0.5), 2)]);
    expect(band?.high[40]).toBe(0);
    expect(band?.high[70]).toBeCloseTo(0.5 * 1.12, 6);
    expect(band?.low[70]).toBeCloseTo(0.5 * 0.88, 6);
  });
  test('spans what several show', () => {
    const band = referenceBand(preview(step(20, 0.3)), 2, [reference(step(20, 0.5), 2), reference(step(20, 0.8), 2)]);
    expect(band?.low[60]).toBeCloseTo(0.44, 6);
    expect(band?.high[60]).toBeCloseTo(0.896, 6);
  });
  test('one that was not pressed says nothing about one that was', () => {
    expect(referenceBand(preview(step(20, 0.3)), 2, [reference(step(20, 0.5), 0, false)])).toBeNull();
    expect(referenceBand(preview(step(20, 0.3)), 2, [])).toBeNull();
  });
  test('where no reference reaches there is no band', () => {
    const band = referenceBand(preview(step(10, 0.3)), 1, [reference(step(80, 0.5), 8)]);
    expect(band?.high[90]).toBeNull();
    expect(band?.high[15]).not.toBeNull();
  });
  test('a run lies within the band of itself', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 0, max: 3, noNaN: true }), { minLength: 20, maxLength: 120 }), (levels) => {
        const band = referenceBand(preview(levels), 3, [reference(levels, 3)]);
        levels.forEach((x, k) => {
          expect(band?.low[k]).toBeLessThanOrEqual(x);
          expect(band?.high[k]).toBeGreaterThanOrEqual(x);
        });
      }),
    );
  });
});
