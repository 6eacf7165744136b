import fc from 'fast-check';
import {
  correctReading,
  correctTrace,
  envelopeOf,
  gaussianNoise,
  lowerBound,
  median,
  noiseFloor,
  quantile,
  robustSpread,
  samplingInterval,
  seededRandom,
  summariseTrace,
  TraceCollector,
  unknownInstrument,
  type Trace,
} from './index.ts';

const traceOf = (t: number[], v: number[], i: number[]): Trace => ({
  t: Float64Array.from(t),
  v: Float32Array.from(v),
  i: Float32Array.from(i),
  quantity: 'current',
  feed: 'battery',
  instrument: unknownInstrument,
  limitA: null,
  setV: null,
  limitSpans: [],
});

test('correction: true = (shown - offset) / gain', () => {
  expect(correctReading(0.55, 1.1, 0.11)).toBeCloseTo(0.4, 12);
  const raw = {
    ...traceOf([0, 1], [5.1, 5.2], [0.55, 1.1]),
    instrument: { ...unknownInstrument, gainA: 1.1, offsetA: 0.11, gainV: 1.02, offsetV: 0, resolutionA: 0.011 },
  };
  const corrected = correctTrace(raw);
  expect(corrected.i[0]).toBeCloseTo(0.4, 6);
  expect(corrected.v[0]).toBeCloseTo(5, 6);
  expect(corrected.instrument).toMatchObject({ gainA: 1, offsetA: 0 });
  expect(corrected.instrument.resolutionA).toBeCloseTo(0.01, 9);
  expect(correctTrace(corrected)).toBe(corrected);
});

test('order statistics', () => {
  expect(median([3, 1, 2])).toBe(2);
  expect(median([4, 1, 2, 3])).toBe(2.5);
  expect(quantile([0, 10], 0.25)).toBe(2.5);
  expect(median([])).toBeNaN();
  expect(robustSpread([1, 1, 1, 1000])).toBe(0);
});

describe('noise floor', () => {
  const noisy = (sigma: number, step: number) => {
    const random = seededRandom(3);
    return Float32Array.from(
      { length: 4000 },
      (_, k) => (k > 2000 ? 0.5 : 0.1) + step * Math.round((sigma * gaussianNoise(random)) / step),
    );
  };
  test('finds Gaussian noise through a step', () => {
    expect(noiseFloor(noisy(0.004, 1e-4), 0.001)).toBeGreaterThan(0.0034);
    expect(noiseFloor(noisy(0.004, 1e-4), 0.001)).toBeLessThan(0.0046);
  });
  test('is never under the resolution', () =>
    expect(noiseFloor(Float32Array.from([0, 0, 0, 0.01, 0.01]), 0.01)).toBe(0.01));
  test('reads the resolution off the samples where it is unknown', () => {
    expect(
      noiseFloor(
        Float32Array.from({ length: 50 }, (_, k) => (k < 25 ? 0.01 : 0.03)),
        null,
      ),
    ).toBeCloseTo(0.02, 6);
  });
  test('is above zero whatever comes', () => {
    expect(noiseFloor(new Float32Array(0), null)).toBeGreaterThan(0);
    expect(noiseFloor(Float32Array.from([NaN, NaN]), null)).toBeGreaterThan(0);
  });
});

test('sampling interval is the median step', () => {
  expect(samplingInterval(Float64Array.from([0, 1, 2, 10, 11]))).toBe(1);
  expect(samplingInterval(Float64Array.from([4]))).toBeNaN();
});

test('summary skips absent values', () => {
  expect(summariseTrace(traceOf([0, 1, 2], [4, NaN, 4.2], [0.1, NaN, 0.3]))).toMatchObject({
    rows: 3,
    firstS: 0,
    lastS: 2,
  });
  const s = summariseTrace(traceOf([0, 1, 2], [4, NaN, 4.2], [0.1, NaN, 0.3]));
  expect(s.meanA).toBeCloseTo(0.2, 6);
  expect(s.maxA).toBeCloseTo(0.3, 6);
  expect(s.meanV).toBeCloseTo(4.1, 6);
  expect(summariseTrace(traceOf([], [], []))).toEqual({
    rows: 0,
    firstS: null,
    lastS: null,
    meanA: null,
    maxA: null,
    meanV: null,
  });
});

describe('collector', () => {
  test('what was gathered up to now is what an end would give, and the stream goes on', () => {
    const [whole, live] = [new TraceCollector(64), new TraceCollector(64)];
    for (let k = 0; k < 500; k++) {
      whole.add(k, 4, 0.01 * k);
      live.add(k, 4, 0.01 * k);
      if (k % 37 === 0) expect(live.soFar().rows).toBe(k + 1);
    }
    expect(live.soFar().t.length).toBeLessThanOrEqual(64);
    expect(live.finish()).toEqual(whole.finish());
  });
  test('keeps what fits and its figures', () => {
    const c = new TraceCollector(8);
    for (let k = 0; k < 6; k++) c.add(k, 5, k);
    expect([...c.finish().i]).toEqual([0, 1, 2, 3, 4, 5]);
    expect(c.summary(unknownInstrument)).toMatchObject({ rows: 6, firstS: 0, lastS: 5, meanA: 2.5, maxA: 5, meanV: 5 });
  });

  test('any length ends within its capacity, with exact figures and the same mean', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 3000 }), fc.integer({ min: 1, max: 50 }), (rows, half) => {
        const c = new TraceCollector(2 * half);
        let sum = 0;
        for (let k = 0; k < rows; k++) {
          const i = (k * 7919) % 13;
          sum += i;
          c.add(k / 10, 4, i);
        }
        const { t, i, reducedBy, rows: counted } = c.finish();
        expect(counted).toBe(rows);
        expect(t.length).toBeLessThanOrEqual(2 * half);
        expect(t[0]).toBe(0);
        for (let k = 1; k < t.length; k++) expect(t[k]).toBeGreaterThan(t[k - 1]);
        const summary = c.summary(unknownInstrument);
        expect(summary.meanA).toBeCloseTo(sum / rows, 9);
        expect(Math.max(...i)).toBeLessThanOrEqual(12);
        expect(reducedBy === 1 || t.length * reducedBy >= rows).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  test('a gap stays a gap where it can', () => {
    const c = new TraceCollector(2);
    for (const [t, i] of [
      [0, NaN],
      [1, NaN],
      [2, 4],
      [3, NaN],
    ])
      c.add(t, NaN, i);
    expect([...c.finish().i]).toEqual([NaN, 4]);
  });
});

describe('envelope', () => {
  test('no spike is lost', () => {
    fc.assert(
      fc.property(fc.integer({ min: 10, max: 2000 }), fc.integer({ min: 0, max: 1 << 30 }), (n, at) => {
        const t = Float64Array.from({ length: n }, (_, k) => k);
        const y = new Float32Array(n).fill(1);
        y[at % n] = 9;
        const drawn = envelopeOf(t, y, 0, n - 1, 37);
        expect(Math.max(...[...drawn.high].filter((x) => x === x))).toBe(9);
      }),
    );
  });
  test('a slow display holds until its next reading, a long silence does not', () => {
    const drawn = envelopeOf(Float64Array.from([0, 1, 2, 3, 50]), Float32Array.from([1, 2, 3, 4, 5]), 0, 50, 100);
    expect(drawn.mean[1]).toBe(1);
    expect(drawn.mean[97]).toBeNaN();
  });
  test('an empty stretch of time draws nothing', () =>
    expect([...envelopeOf(new Float64Array(0), new Float32Array(0), 0, 0, 3).mean]).toEqual([NaN, NaN, NaN]));
  test('lower bound', () =>
    expect([0, 1, 1.5, 9].map((x) => lowerBound(Float64Array.from([0, 1, 2]), x))).toEqual([0, 1, 2, 3]));
});
