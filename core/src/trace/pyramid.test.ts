import fc from 'fast-check';
import { envelopeOf, envelopeOfBuckets, levelFor, PyramidBuilder, pyramidRows, type Buckets } from '../index.ts';

function built(t: number[], i: number[], v: number[], inBlock = 16): Buckets[][] {
  const levels: Buckets[][] = pyramidRows.map(() => []);
  const builder = new PyramidBuilder((level, buckets) => levels[level].push(buckets), inBlock);
  t.forEach((at, k) => builder.add(at, v[k], i[k]));
  builder.finish();
  return levels;
}
const all = (blocks: Buckets[], of: 't' | 'low' | 'mean' | 'high' | 'volts'): number[] =>
  blocks.flatMap((b) => Array.from(b[of]));

describe('the coarser levels of a run', () => {
  test('say of every stretch of rows what the rows say', () => {
    const rows = fc.array(fc.option(fc.integer({ min: 0, max: 4000 })), { minLength: 1, maxLength: 5000 });
    fc.assert(
      fc.property(rows, (values) => {
        const i = values.map((x) => (x === null ? NaN : Math.fround(x / 1000)));
        const t = i.map((_, k) => k / 100);
        const levels = built(t, i, i);
        pyramidRows.forEach((size, level) => {
          const [times, low, mean, high] = (['t', 'low', 'mean', 'high'] as const).map((k) => all(levels[level], k));
          expect(times).toHaveLength(Math.ceil(i.length / size));
          times.forEach((at, k) => {
            const part = i.slice(k * size, (k + 1) * size).filter((x) => x === x);
            expect(at).toBe(t[k * size]);
            if (part.length === 0) return expect([low[k], mean[k], high[k]]).toEqual([NaN, NaN, NaN]);
            expect(low[k]).toBe(Math.min(...part));
            expect(high[k]).toBe(Math.max(...part));
            expect(mean[k]).toBeCloseTo(part.reduce((a, b) => a + b, 0) / part.length, 5);
          });
        });
      }),
      { numRuns: 30 },
    );
  });

  test('a picture drawn from them keeps every spike and follows the picture drawn from the rows', () => {
    const n = 400_000;
    const t = Array.from({ length: n }, (_, k) => k / 1000);
    const i = t.map((at, k) => (k === 123_456 ? 3 : 0.5 + 0.4 * Math.sin(at / 20)));
    const levels = built(
      t,
      i,
      t.map(() => 4),
      4096,
    );
    const bins = 200;
    const [from, to] = [50, 350];
    const fine = envelopeOf(Float64Array.from(t), Float32Array.from(i), from, to, bins);
    for (const level of [0, 1]) {
      const coarse = envelopeOfBuckets(levels[level], from, to, bins);
      expect(Math.max(...coarse.high)).toBe(3);
      expect(Math.abs(coarse.high.indexOf(3) - fine.high.indexOf(3))).toBeLessThanOrEqual(1);
      for (let k = 1; k < bins - 1; k++) expect(coarse.mean[k]).toBeCloseTo(fine.mean[k], 1);
      expect(new Set(coarse.volts)).toEqual(new Set([4]));
    }
  });

  test('the coarsest that still fills the picture is taken, and the rows themselves where they are few', () => {
    expect(levelFor(1000, 640)).toBeNull();
    expect(levelFor(160_000, 640)).toBeNull();
    expect(levelFor(164_000, 640)).toBe(0);
    expect(levelFor(10_000_000, 640)).toBe(1);
    expect(levelFor(100_000_000, 640)).toBe(2);
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e9 }), (rows) => {
        const level = levelFor(rows, 640);
        const read = level === null ? rows : rows / pyramidRows[level];
        expect(level === 2 || read <= 4 * 640 * 64).toBe(true);
      }),
    );
  });
});
