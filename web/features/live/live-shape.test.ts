import fc from 'fast-check';
import { LiveShape } from './live-shape';

describe('the outline of a run that goes on', () => {
  test('stays bounded, and keeps its highest current, however long it goes on', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 20_000 }), fc.double({ min: 0.001, max: 0.5, noNaN: true }), (n, step) => {
        const shape = new LiveShape();
        const peakAt = Math.floor(n / 3);
        for (let k = 0; k < n; k++) shape.add(k * step, 4, k === peakAt ? 2 : 0.1);
        const levels = shape.levels();
        expect(levels.length).toBeLessThanOrEqual(480);
        expect(levels.length * shape.width).toBeGreaterThan((n - 1) * step);
        expect(Math.max(...levels.map((x) => x ?? 0))).toBeGreaterThan(1);
        expect(shape.end).toBeCloseTo((n - 1) * step, 9);
      }),
      { numRuns: 40 },
    );
  });

  test('a stretch without a sample keeps the one before; before the first there is none', () => {
    const shape = new LiveShape();
    shape.add(0.12, 4, 0.5);
    shape.add(0.31, 4, NaN);
    expect(shape.levels()).toEqual([null, null, 0.5, 0.5, 0.5, 0.5, 0.5]);
    expect(shape.volts).toBe(4);
  });
});
