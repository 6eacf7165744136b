import { describe as describeShape } from '../diagnosis/index.ts';
import { caseOf, sketchInstruments, sketchRun } from '../testing/cases.ts';
import { courseByPhase, courseInstants, courseLength } from './course.ts';
import { distanceOf } from './distance.ts';
import { powerScale } from './features.ts';
import settings from './settings.json';
import { areComparable, signatureOf, type Signature } from './signature.ts';

const value = caseOf('phone');

/** A start that climbs in three steps, `slow` times as slowly and at `high` times the current. */
function climbing(slow = 1, high = 1, instrument = sketchInstruments.logger): Signature {
  const { run, trace } = sketchRun(
    {
      feed: 'battery',
      setup: { setV: 4, limitA: 3 },
      markers: [
        { t: 0, event: 'output-on' },
        { t: 3, event: 'prompt' },
      ],
      strokes: [
        { seconds: 3, amps: 0.002 },
        { seconds: 0.6 * slow, amps: 0.08 * high },
        { seconds: 1.2 * slow, amps: 0.25 * high },
        { seconds: 14, amps: 0.6 * high },
      ],
    },
    instrument,
  );
  return signatureOf(run, describeShape(value, run, trace, null));
}

describe('course of a run', () => {
  test('places stand a fixed share apart, from a tenth of a second on', () => {
    const shares = courseInstants.slice(1).map((s, k) => s / courseInstants[k]);
    shares.forEach((share) => expect(share).toBeCloseTo(shares[0], 9));
    expect(courseInstants[0]).toBeCloseTo(settings.course.fromS, 9);
    expect(courseInstants.at(-1)).toBeCloseTo(settings.course.toS, 9);
  });
  test('worked example: 0.6 A at 4 V is 2.4 W on its scale at the end, nothing before power-on', () => {
    const course = climbing().course;
    expect(course).toHaveLength(courseLength);
    expect(course[0]).toBeLessThan(0.3);
    expect(course.at(-1)).toBeCloseTo(powerScale(2.4, settings.courseFloorW), 1);
  });
  test('a unit that is slower by a third is far nearer than one that draws twice as much', () => {
    const usual = climbing();
    expect(distanceOf(usual, climbing(1.33))).toBeLessThan(3);
    expect(distanceOf(usual, climbing(1, 2))).toBeGreaterThan(4 * distanceOf(usual, climbing(1.33)));
  });
  test('a run without segments has a course of nothing', () => {
    const { run, trace } = sketchRun({ feed: 'battery', strokes: [{ seconds: 4, amps: 0 }] }, sketchInstruments.logger);
    const shape = { ...describeShape(value, run, trace, null), segments: [] };
    expect(Array.from(courseByPhase(shape)).every((x) => x === 0)).toBe(true);
  });
});

describe('features', () => {
  test('the power scale: worked example, linear below what a display shows, then a fixed step for a fixed share', () => {
    expect(powerScale(0.005, 0.05)).toBeCloseTo(0.1, 3);
    expect(powerScale(2, 0.05) - powerScale(1, 0.05)).toBeCloseTo(Math.log(2), 2);
    expect(powerScale(-1, 0.05)).toBe(0);
  });
  test('one digit of a coarse display does not part two runs', () => {
    const meter = { ...sketchInstruments.logger, resolutionA: 0.01 };
    const quiet = (amps: number): Signature => {
      const { run, trace } = sketchRun({ feed: 'usb-c', strokes: [{ seconds: 12, amps }] }, meter);
      return signatureOf(run, describeShape(value, run, trace, null));
    };
    expect(distanceOf(quiet(0.01), quiet(0))).toBeLessThan(6);
    expect(distanceOf(quiet(0.3), quiet(0))).toBeGreaterThan(50);
  });
});

describe('what can be held against each other', () => {
  test('the same feed with the same in it and pressed alike; another port is nearly the same', () => {
    const { setup } = climbing();
    expect(areComparable(setup, { ...setup, port: 2, flipped: true })).toBe(true);
    expect(areComparable(setup, { ...setup, feed: 'usb-c' })).toBe(false);
    expect(areComparable(setup, { ...setup, battery: true })).toBe(false);
    expect(areComparable(setup, { ...setup, prompted: false })).toBe(false);
    expect(areComparable(setup, { ...setup, otherwise: 'camera' })).toBe(false);
  });
});
