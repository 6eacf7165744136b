import fc from 'fast-check';
import type { Preview } from '@/server/record/rows/run-rows';
import { alignedPath, anchorsOf, anchorTimes, axisTicks, commonAxis, type Alignable } from './aligned';

const preview = (t0: number, t1: number, mean: (number | null)[] = [0, 1, 2, 1]): Preview => ({
  t0,
  t1,
  low: mean,
  mean,
  high: mean,
  volts: mean.map(() => null),
});
const run = (change: Partial<Alignable> = {}): Alignable => ({
  preview: preview(0, 10),
  markers: [],
  startedAt: null,
  ...change,
});

describe('laying runs over each other', () => {
  test('by what happened in each, the press before all', () => {
    const a = run({
      markers: [
        { t: 1, event: 'output-on' },
        { t: 3, event: 'prompt' },
      ],
    });
    const b = run({ markers: [{ t: 2, event: 'output-on' }] });
    expect(anchorsOf([a, a])).toEqual(['prompt', 'output-on', 'begin']);
    expect(anchorsOf([a, b])).toEqual(['output-on', 'begin']);
    expect(anchorTimes([a, b], 'output-on')).toEqual([1, 2]);
    expect(commonAxis([a, b], [1, 2])).toEqual({ from: -2, to: 9 });
  });

  test('by the clock where they were recorded together', () => {
    const at = (s: number): Date => new Date(1_000_000 + 1000 * s);
    const [a, b] = [run({ startedAt: at(0) }), run({ startedAt: at(2.5) })];
    expect(anchorsOf([a, b])).toEqual(['begin', 'clock']);
    const times = anchorTimes([a, b], 'clock');
    // The second began 2.5 s later: its own zero lies at 2.5 s of the first.
    expect(times).toEqual([0, -2.5]);
    expect(commonAxis([a, b], times)).toEqual({ from: 0, to: 12.5 });
    expect(anchorsOf([a, run({ startedAt: at(5000) })])).toEqual(['begin']);
    expect(anchorsOf([a, run()])).toEqual(['begin']);
  });

  test('every outline stays inside the picture, whatever is laid over what', () => {
    const anyRun = fc.record({
      t0: fc.double({ min: -50, max: 50, noNaN: true }),
      long: fc.double({ min: 0.1, max: 500, noNaN: true }),
      mean: fc.array(fc.option(fc.double({ min: 0, max: 5, noNaN: true })), { minLength: 1, maxLength: 30 }),
      anchor: fc.double({ min: -20, max: 20, noNaN: true }),
    });
    fc.assert(
      fc.property(fc.array(anyRun, { minLength: 1, maxLength: 4 }), (all) => {
        const runs = all.map((r) => run({ preview: preview(r.t0, r.t0 + r.long, r.mean) }));
        const anchors = all.map((r) => r.anchor);
        const axis = commonAxis(runs, anchors);
        const highest = Math.max(0.01, ...all.flatMap((r) => r.mean.map((m) => m ?? 0)));
        runs.forEach((r, k) => {
          const numbers = alignedPath(r.preview, anchors[k], axis, highest)
            .match(/-?[\d.]+/g)!
            .map(Number);
          expect(Math.min(...numbers)).toBeGreaterThanOrEqual(-0.06);
          expect(Math.max(...numbers)).toBeLessThanOrEqual(1000.06);
        });
        const ticks = axisTicks(axis);
        expect(ticks.length).toBeLessThanOrEqual(10);
        expect(ticks.every((t) => t >= axis.from - 1e-3 && t <= axis.to + 1e-3)).toBe(true);
      }),
    );
  });
});
