import fc from 'fast-check';
import { caseOf, describeWithPatterns, sketchInstruments, sketchRun } from '../testing/cases.ts';
import { repeatStrokes, type SketchInstrument, type Stroke } from '../sketch/index.ts';
import { gaussianNoise, seededRandom, unknownInstrument, type Trace } from '../trace/index.ts';
import { optimalPartition } from './partition.ts';
import { segmentTrace } from './segments.ts';

const battery = { setV: 4, limitA: 3 };
const kinds = (strokes: Stroke[], instrument: SketchInstrument = sketchInstruments.logger, setup = battery) => {
  const { run, trace } = sketchRun({ feed: 'battery', strokes, setup }, instrument);
  return describeWithPatterns(caseOf('phone'), run, trace).shape.segments;
};

describe('change points', () => {
  test('finds the steps of a noisy staircase where they are', () => {
    const random = seededRandom(5);
    const y = Float64Array.from(
      { length: 300 },
      (_, k) => (k < 100 ? 0 : k < 180 ? 4 : 1) + 0.5 * gaussianNoise(random),
    );
    const changes = optimalPartition(y, 3 * Math.log(300));
    expect(changes).toHaveLength(2);
    expect(Math.abs(changes[0] - 100)).toBeLessThanOrEqual(2);
    expect(Math.abs(changes[1] - 180)).toBeLessThanOrEqual(2);
  });

  test('is exact: no set of changes costs less', () => {
    const cost = (y: number[], from: number, to: number): number => {
      const part = y.slice(from, to);
      const mean = part.reduce((a, b) => a + b, 0) / part.length;
      return part.reduce((sum, x) => sum + (x - mean) ** 2, 0);
    };
    const total = (y: number[], changes: number[], penalty: number): number => {
      const edges = [0, ...changes, y.length];
      return edges.slice(1).reduce((sum, to, k) => sum + cost(y, edges[k], to), 0) + penalty * changes.length;
    };
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 9 }), { minLength: 2, maxLength: 9 }),
        fc.integer({ min: 1, max: 20 }),
        (y, penalty) => {
          const found = total(y, optimalPartition(Float64Array.from(y), penalty), penalty);
          for (let mask = 0; mask < 1 << (y.length - 1); mask++) {
            const changes = y.slice(1).flatMap((_, k) => (mask & (1 << k) ? [k + 1] : []));
            expect(found).toBeLessThanOrEqual(total(y, changes, penalty) + 1e-9);
          }
        },
      ),
      { numRuns: 60 },
    );
  });

  test('a constant has no change, and neither has nothing', () => {
    expect(optimalPartition(new Float64Array(500).fill(3), 5)).toEqual([]);
    expect(optimalPartition(new Float64Array(1), 5)).toEqual([]);
  });
});

describe('segments', () => {
  test('a staircase: levels, edges and watts', () => {
    const segments = kinds([
      { seconds: 3, amps: 0.0003 },
      { seconds: 2, amps: 0.08 },
      { seconds: 3, amps: 0.3 },
    ]);
    expect(segments.map((s) => s.kind)).toEqual(['zero', 'level', 'level']);
    expect(segments[1].t0).toBeCloseTo(3, 1);
    expect(segments[2].t0).toBeCloseTo(5, 1);
    expect(segments[2].meanA).toBeCloseTo(0.3, 2);
    expect(segments[2].watts).toBeCloseTo(1.2, 1);
  });

  test('10 against 60 mA and 1 against 2 A both count', () => {
    for (const instrument of [sketchInstruments.display, sketchInstruments.logger]) {
      expect(
        kinds(
          [
            { seconds: 6, amps: 0.01 },
            { seconds: 6, amps: 0.06 },
          ],
          instrument,
        ),
      ).toHaveLength(2);
      expect(
        kinds(
          [
            { seconds: 6, amps: 1 },
            { seconds: 6, amps: 2 },
          ],
          instrument,
        ),
      ).toHaveLength(2);
    }
  });

  test('a reading at the limit is a floor', () => {
    const segments = kinds(
      [
        { seconds: 2, amps: 0.001 },
        { seconds: 5, amps: 4 },
      ],
      sketchInstruments.logger,
      { setV: 4, limitA: 2 },
    );
    expect(segments.at(-1)).toMatchObject({ kind: 'limit' });
    expect(segments.at(-1)?.meanA).toBeCloseTo(2, 1);
  });

  test('pulses have a period and a duty', () => {
    const found = kinds(
      repeatStrokes(20, [
        { seconds: 0.4, amps: 0.02 },
        { seconds: 0.2, amps: 0.5 },
      ]),
      sketchInstruments.logger,
    ).find((s) => s.kind === 'pulses');
    expect(found?.periodS).toBeCloseTo(0.6, 1);
    expect(found?.duty).toBeGreaterThan(0.2);
    expect(found?.duty).toBeLessThan(0.5);
  });

  test('a single spike of a range switch is no level', () => {
    const { run, trace } = sketchRun(
      { feed: 'battery', strokes: [{ seconds: 20, amps: 0.2 }], setup: battery },
      sketchInstruments.logger,
    );
    const spiked = { ...trace, i: trace.i.map((x, k) => (k === 200 ? 1.9 : x)) };
    const { segments } = describeWithPatterns(caseOf('phone'), run, spiked).shape;
    expect(segments.map((s) => s.kind)).toEqual(['level']);
    expect(segments[0].meanA).toBeCloseTo(0.2, 2);
  });

  test('a pause of the recording is a gap', () => {
    const { run, trace } = sketchRun(
      { feed: 'battery', strokes: [{ seconds: 10, amps: 0.2 }], setup: battery },
      sketchInstruments.logger,
    );
    const keep = [...trace.t.keys()].filter((k) => trace.t[k] < 4 || trace.t[k] > 7);
    const cut: Trace = {
      ...trace,
      t: trace.t.filter((_, k) => keep.includes(k)),
      v: trace.v.filter((_, k) => keep.includes(k)),
      i: trace.i.filter((_, k) => keep.includes(k)),
    };
    expect(describeWithPatterns(caseOf('phone'), run, cut).shape.segments.map((s) => s.kind)).toEqual([
      'level',
      'gap',
      'level',
    ]);
  });

  test('rows without a value are skipped, not read as zero', () => {
    const { run, trace } = sketchRun(
      { feed: 'battery', strokes: [{ seconds: 10, amps: 0.2 }], setup: battery },
      sketchInstruments.logger,
    );
    const holed = { ...trace, i: trace.i.map((x, k) => (k % 3 === 0 ? NaN : x)) };
    const { segments } = describeWithPatterns(caseOf('phone'), run, holed).shape;
    expect(segments.map((s) => s.kind)).toEqual(['level']);
  });

  const bare = (t: number[], i: number[]): Trace => ({
    t: Float64Array.from(t),
    v: new Float32Array(t.length).fill(4),
    i: Float32Array.from(i),
    quantity: 'current',
    feed: 'battery',
    instrument: unknownInstrument,
    limitA: null,
    setV: 4,
    limitSpans: [],
  });

  test('the rest before power-on is no part of the activity after it', () => {
    const strokes: Stroke[] = [
      { seconds: 0.1, amps: 0.02 },
      { seconds: 1.4, amps: 0.0015 },
      { seconds: 0.3, amps: 0.033 },
      { seconds: 0.4, amps: 0.06 },
      { seconds: 3, amps: 0.07, burstTo: 0.15, burstS: 0.3 },
    ];
    const sketched = sketchRun(
      { feed: 'battery', strokes, setup: battery },
      { ...sketchInstruments.logger, rateHz: 73 },
    );
    const { segments } = describeWithPatterns(caseOf('phone'), sketched.run, sketched.trace).shape;
    expect(segments.filter((s) => s.kind === 'bursts' && s.t0 < 1.3)).toEqual([]);
    expect(segments.some((s) => s.kind !== 'bursts' && s.t0 < 0.5 && s.t1 > 1.3)).toBe(true);
  });
  test('a hold that wanders by a few percent is one hold, however it is cut', () => {
    const strokes = Array.from({ length: 8 }, (_, k): Stroke => ({ seconds: 3, amps: k % 2 === 0 ? 0.035 : 0.0385 }));
    const sketched = sketchRun({ feed: 'battery', strokes, setup: battery }, sketchInstruments.logger);
    const { segments, features } = describeWithPatterns(caseOf('phone'), sketched.run, sketched.trace).shape;
    expect(segments.length).toBeGreaterThan(3);
    expect(features.whole.tailSeconds).toBeGreaterThan(20);
  });
  test('cover the run in order without overlap, whatever the samples', () => {
    const level = fc.oneof(fc.double({ min: -0.5, max: 5, noNaN: true }), fc.constant(NaN), fc.constant(0));
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.001, max: 3, noNaN: true }), level), { maxLength: 120 }),
        (rows) => {
          let t = 0;
          const times = rows.map(([step]) => (t += step));
          const { segments } = segmentTrace(
            bare(
              times,
              rows.map(([, i]) => i),
            ),
          );
          for (const s of segments) {
            expect(s.t1).toBeGreaterThanOrEqual(s.t0);
            for (const x of [s.meanA, s.meanV, s.watts, s.spreadA, s.periodS, s.duty])
              expect(x === null || Number.isFinite(x)).toBe(true);
          }
          for (let k = 1; k < segments.length; k++)
            expect(segments[k].t0).toBeGreaterThanOrEqual(segments[k - 1].t1 - 1e-9);
          const filled = times.filter((_, k) => Number.isFinite(rows[k][1]));
          if (filled.length > 0) {
            expect(segments[0].t0).toBeLessThanOrEqual(filled[0]);
            expect(segments[segments.length - 1].t1).toBeGreaterThanOrEqual(filled[filled.length - 1] - 1e-9);
          }
        },
      ),
      { numRuns: 200 },
    );
  });

  test('levels do not depend on where the run begins', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1e6, noNaN: true }), (start) => {
        const { trace } = sketchRun(
          {
            feed: 'battery',
            strokes: [
              { seconds: 3, amps: 0.05 },
              { seconds: 3, amps: 0.4 },
            ],
            setup: battery,
          },
          sketchInstruments.logger,
        );
        const moved = segmentTrace({ ...trace, t: trace.t.map((x) => x + start) });
        expect(moved.segments.map((s) => s.kind)).toEqual(['level', 'level']);
      }),
      { numRuns: 20 },
    );
  });
});

describe('markers', () => {
  const run = (
    strokes: Stroke[],
    markers: { t: number; event: 'prompt' | 'output-on' | 'note' }[],
    feed: 'battery' | 'usb-c' = 'battery',
  ) => {
    const sketched = sketchRun({ feed, strokes, markers, setup: battery }, sketchInstruments.logger);
    return describeWithPatterns(caseOf('phone'), sketched.run, sketched.trace).shape;
  };
  const quietThenUp: Stroke[] = [
    { seconds: 4, amps: 0.001 },
    { seconds: 6, amps: 0.2 },
  ];

  test('a missing press is taken from the trace, and said', () => {
    const shape = run(quietThenUp, []);
    expect(shape.markers).toEqual([expect.objectContaining({ event: 'prompt', inferred: true })]);
    expect(shape.markers[0].t).toBeCloseTo(4, 1);
    expect(shape.warnings.join()).toMatch(/No marker for power-on/);
  });
  test('a given press is kept', () =>
    expect(run(quietThenUp, [{ t: 3.5, event: 'prompt' }]).markers).toEqual([{ t: 3.5, event: 'prompt' }]));
  test('on USB-C a rise is no press', () => expect(run(quietThenUp, [], 'usb-c').markers).toEqual([]));
  test('the source coming on is taken from the voltage', () => {
    const shape = run(
      [
        { seconds: 2, amps: 0, volts: 0 },
        { seconds: 6, amps: 0.001, volts: 4 },
      ],
      [],
    );
    expect(shape.markers[0]).toMatchObject({ event: 'output-on', inferred: true });
    expect(shape.markers[0].t).toBeCloseTo(2, 1);
  });
  test('switching off at the end is taken from the voltage, and contradicts nothing', () => {
    const shape = run([...quietThenUp, { seconds: 3, amps: 0, volts: 0 }], [{ t: 4, event: 'prompt' }]);
    expect(shape.markers.at(-1)).toMatchObject({ event: 'output-off', inferred: true });
    expect(shape.markers.at(-1)?.t).toBeCloseTo(10, 1);
    expect(shape.features).toMatchObject({ contradictions: [], endedOff: true });
    expect(shape.features.after?.tailKind).toBe('level');
    expect(shape.warnings.join()).toMatch(/No marker for output off/);
  });
  test('a plug that is pulled, put back and pulled again is no switching off', () => {
    const shape = run(
      [
        ...quietThenUp,
        { seconds: 2, amps: 0, volts: 0 },
        { seconds: 4, amps: 0.2, volts: 4 },
        { seconds: 6, amps: 0, volts: 0 },
      ],
      [],
    );
    expect(shape.markers.map((m) => m.event)).not.toContain('output-off');
    expect(shape.features.contradictions.join()).toMatch(/for no stated reason/);
  });
  test('a source that gives an instant of voltage was not switched off', () => {
    const shape = run(
      [
        { seconds: 1, amps: 0, volts: 0 },
        { seconds: 0.4, amps: 0.01, volts: 5 },
        { seconds: 9, amps: 0, volts: 0 },
      ],
      [],
      'usb-c',
    );
    expect(shape.markers.map((m) => m.event)).not.toContain('unplug');
  });
  test('markers out of order are sorted, those outside kept but not used', () => {
    const shape = run(quietThenUp, [
      { t: 5, event: 'note' },
      { t: 1, event: 'prompt' },
      { t: 99, event: 'note' },
    ]);
    expect(shape.markers.map((m) => m.t)).toEqual([1, 5, 99]);
    expect(shape.warnings.join()).toMatch(/sorted/);
    expect(shape.warnings.join()).toMatch(/One marker is outside the run/);
  });
});

describe('what no device does is said', () => {
  const contradictions = (
    strokes: Stroke[],
    feed: 'battery' | 'usb-c',
    instrument: SketchInstrument = sketchInstruments.logger,
  ) => {
    const setup = feed === 'battery' ? battery : {};
    const sketched = sketchRun({ feed, strokes, setup }, instrument);
    return describeWithPatterns(caseOf('phone'), sketched.run, sketched.trace).shape.features.contradictions.join();
  };
  const even = (height: number[], seconds: number[]): Stroke[] =>
    height.map((amps, k) => ({ amps, seconds: seconds[k % seconds.length] }));

  test('even steps at even distances are a load that is swept, stages of a start are not', () => {
    const heights = [0.001, 0.125, 0.25, 0.375, 0.5, 0.625, 0.75, 0.875, 1];
    expect(contradictions(even(heights, [3]), 'battery')).toMatch(/a swept load/);
    expect(contradictions(even(heights, [0.4, 1.3, 0.7, 2.1]), 'battery')).toBe('');
    expect(contradictions(even([0.001, 0.08, 0.19, 0.27, 0.5, 0.62, 1.1], [1]), 'battery')).toBe('');
  });
  test('plugged in and out over an afternoon is somebody’s day; a port that lets go again and again is not', () => {
    const day: Stroke[] = [60, 90, 45].flatMap((seconds) => [
      { seconds, amps: 1.6, volts: 9 },
      { seconds: 40, amps: 0, volts: 0 },
    ]);
    expect(
      contradictions([...day, { seconds: 50, amps: 1.2, volts: 9 }], 'usb-c', sketchInstruments.coarseMeter),
    ).toMatch(/unplugged for a while/);
    const lets: Stroke[] = repeatStrokes(9, [
      { seconds: 1.2, amps: 0.04, volts: 5 },
      { seconds: 1.5, amps: 0, volts: 0 },
    ]);
    expect(contradictions(lets, 'usb-c', sketchInstruments.meter)).toBe('');
  });
  test('a bus that stands nowhere is a meter to look at; contracts in steps are not', () => {
    const wander = Array.from({ length: 40 }, (_, k): Stroke => ({
      seconds: 0.5,
      amps: 0.3,
      volts: 4 + 8 * Math.abs(Math.sin(k / 5)),
    }));
    expect(contradictions(wander, 'usb-c', sketchInstruments.meter)).toMatch(/jumps from reading to reading/);
    const contracts: Stroke[] = [5, 9, 12, 15, 20].map((volts) => ({ seconds: 4, amps: 1, volts }));
    expect(contradictions(contracts, 'usb-c', sketchInstruments.meter)).toBe('');
  });
});
