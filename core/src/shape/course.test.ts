import fc from 'fast-check';
import { compileProfile, shippedProfile, startUp, usualSetup, recordStartUp, instrumentOf } from '../twin/index.ts';
import { seededRandom, unknownInstrument, type Marker, type Trace } from '../trace/index.ts';
import { courseWindows, describeRun } from './index.ts';

/** A run that stands at one level before power-on and at another after it. */
function step(beforeA: number, afterA: number, rateHz: number, pressS: number): Trace {
  const n = Math.round(30 * rateHz);
  const t = Float64Array.from({ length: n }, (_, k) => k / rateHz);
  return {
    t,
    v: Float32Array.from(t, () => 4),
    i: Float32Array.from(t, (x) => (x < pressS ? beforeA : afterA)),
    feed: 'battery',
    quantity: 'current',
    limitA: null,
    setV: 4,
    limitSpans: [],
    instrument: { ...unknownInstrument, rateHz, resolutionA: 0.0001 },
  };
}

const options = { feedV: 4, startsOnPower: false, alreadyOn: false };
const describeAt = (trace: Trace, pressS: number) =>
  describeRun(
    trace,
    [
      { t: 0, event: 'output-on' },
      { t: pressS, event: 'prompt' },
    ],
    options,
  ).features.course;

describe('the course of the power after power-on', () => {
  test('windows join and double', () => {
    for (let k = 1; k < courseWindows.length; k++) {
      expect(courseWindows[k][0]).toBe(courseWindows[k - 1][1]);
      expect(courseWindows[k][1] / courseWindows[k][0]).toBeGreaterThanOrEqual(1.9);
    }
  });
  test('a hold after power-on is its watts in every window that the run reaches', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 2, noNaN: true }), fc.constantFrom(50, 200), (amps, rate) => {
        const course = describeAt(step(0.001, amps, rate, 4), 4);
        course.forEach((watts, k) => {
          if (watts === null) expect(courseWindows[k][1]).toBeGreaterThan(20);
          else expect(watts).toBeCloseTo(4 * amps, 2);
        });
      }),
      { numRuns: 30 },
    );
  });
  test('what a slow instrument has no sample for is unknown, not nothing', () => {
    const course = describeAt(step(0, 0.5, 2, 4), 4);
    expect(course[0]).toBeNull();
    expect(course.at(-3)).toBeCloseTo(2, 3);
  });
  test('a run that ends early says nothing about later', () => {
    const trace = step(0, 0.5, 50, 27);
    const course = describeAt(trace, 27);
    courseWindows.forEach(([, to], k) => (to > 3.4 ? expect(course[k]).toBeNull() : expect(course[k]).not.toBeNull()));
  });
  test('what a probe records of a virtual start-up has the course that was computed', () => {
    const board = compileProfile(shippedProfile('tallgate-moorcall-2')!);
    const setup = { ...usualSetup, feed: 'battery' as const, onS: 0.5, promptS: 3, seconds: 28, setV: 3.9, limitA: 5 };
    const start = startUp(board, [], setup);
    const markers: Marker[] = [
      { t: 0.5, event: 'output-on' },
      { t: 3, event: 'prompt' },
    ];
    // Bursts fall where they fall: it is their mean over some runs that was computed.
    const courses = [1, 2, 3, 4, 5, 6, 7, 8].map((seed) => {
      const trace = recordStartUp(start, setup, instrumentOf('probe'), seededRandom(seed));
      return describeRun(trace, markers, options).features.course;
    });
    const course = courseWindows.map((_, k) =>
      courses[0][k] === null ? null : courses.reduce((sum, c) => sum + c[k]!, 0) / courses.length,
    );
    courseWindows.forEach(([from, to], k) => {
      if (course[k] === null) return;
      let joules = 0;
      for (const s of start.segments)
        joules += s.meanA * s.volts * Math.max(0, Math.min(s.t1, 3 + to) - Math.max(s.t0, 3 + from));
      expect(Math.abs(course[k]! - joules / (to - from))).toBeLessThan(0.05 * (joules / (to - from)) + 0.05);
    });
  });
});
