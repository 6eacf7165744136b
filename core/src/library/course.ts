import type { Segment, Shape } from '../shape/index.ts';
import { powerScale } from './features.ts';
import settings from './settings.json';

const { before, after, fromS, toS } = settings.course;

/** How many numbers a course has. */
export const courseLength = before + after;

/** Instants of the course after its start, seconds: each a fixed share later than the one before. */
export const courseInstants: readonly number[] = Array.from(
  { length: after },
  (_, k) => fromS * (toS / fromS) ** (k / (after - 1)),
);

/**
 * The power of a run at fixed places: some before the press, evenly, and some after it, each a fixed share later than the
 * one before. On such a scale a unit that is slower by a third is the same course some places later, whatever the delay, so
 * that one band of the warping fits all delays.
 *
 * @param shape a run with its segments and markers
 * @returns `courseLength` numbers: watts by {@link powerScale}; a place that the run does not reach holds the last one
 */
export function courseByPhase({ segments, features, markers }: Shape): Float32Array {
  const course = new Float32Array(courseLength);
  const on = markers.find((m) => m.event === 'output-on' || m.event === 'plug')?.t ?? segments[0]?.t0 ?? 0;
  const press = features.promptT;
  const start = press ?? on;
  const watts = wattsAt(segments, features.voltage.highest);
  for (let k = 0; k < before; k++)
    course[k] = press === null ? 0 : powerScale(watts(on + ((k + 0.5) / before) * (press - on)), settings.courseFloorW);
  courseInstants.forEach((s, k) => {
    course[before + k] = powerScale(watts(start + s), settings.courseFloorW);
  });
  return course;
}

/** Power at an instant by the segments: what stood last after the end, nothing before the beginning or in a gap. */
function wattsAt(segments: readonly Segment[], feedV: number | null): (t: number) => number {
  let k = 0;
  return (t) => {
    if (k > 0 && segments[k] && t < segments[k].t0) k = 0;
    while (k < segments.length - 1 && t >= segments[k].t1) k++;
    const s = segments[k];
    if (!s || t < s.t0) return 0;
    return s.watts ?? (s.meanA ?? 0) * (s.meanV ?? feedV ?? 1);
  };
}
