import { LRUCache } from 'lru-cache';
import type { Run } from '../../case/index.ts';
import { formatCurrent, formatVoltage } from '../../quantity/index.ts';
import type { Shape } from '../../shape/index.ts';
import { seededRandom, type Trace } from '../../trace/index.ts';
import { parseFault, shippedProfile } from '../../twin/index.ts';
import { soundUnit } from '../../population/index.ts';
import { usualRun, type SeenUsual } from '../usual-run.ts';
import settings from './lesson-run.json';
import type { LessonPlace, LessonRun } from './lesson.ts';

/** A run of a lesson as it was recorded, with what is read off it. Amperes, volts, seconds. */
interface DrawnRun extends SeenUsual {
  /** What is drawn at a place, and where the place is. */
  levels: Record<LessonPlace, { amps: number; volts: number; span: readonly [from: number, to: number] }>;
}

const drawn = new LRUCache<string, DrawnRun>({ max: 60 });

/**
 * Records the run of a lesson: always the same samples.
 *
 * @throws {RangeError} for a profile or a fault that there is not
 */
export function drawLessonRun(given: LessonRun): DrawnRun {
  const key = JSON.stringify(given);
  const known = drawn.get(key);
  if (known) return known;
  const profile = shippedProfile(given.profile);
  if (!profile) throw new RangeError(`there is no shipped profile "${given.profile}"`);
  const fault = parseFault(profile, given.fault);
  const faults = fault.kind === 'none' ? [] : [fault];
  const on = { feed: given.feed, battery: given.battery ?? true };
  const { unit = 0 } = given;
  const device = unit === 0 ? profile : soundUnit(profile, seededRandom(settings.seed + unit), settings.spread);
  const seen = usualRun(device, faults, on, seededRandom(settings.seed + unit));
  const made: DrawnRun = { ...seen, levels: levelsOf(seen.trace, seen.shape, seen.run) };
  drawn.set(key, made);
  return made;
}

function levelsOf(trace: Trace, { segments }: Shape, run: Run): DrawnRun['levels'] {
  const end = trace.t[trace.t.length - 1];
  const on = run.markers.find((m) => m.event !== 'prompt')?.t ?? 0;
  const prompt = run.markers.find((m) => m.event === 'prompt')?.t ?? end;
  const after = segments.filter((s) => s.t0 >= prompt - settings.slackS && s.meanA !== null);
  const top = after.reduce((a, b) => ((b.meanA ?? 0) > (a?.meanA ?? 0) ? b : a), after[0]) ?? segments[0];
  const last = Math.max(prompt, end - settings.endS);
  const of = (from: number, to: number) => ({ ...meanOver(trace, from, to), span: [from, to] as const });
  return {
    before: of(on + settings.slackS, prompt),
    peak: of(top.t0, top.t1),
    end: of(last, end),
    whole: of(0, end),
  };
}

/** Means over a stretch; volts are those that stood longest. */
function meanOver(trace: Trace, from: number, to: number): { amps: number; volts: number } {
  let [amps, volts, n] = [0, 0, 0];
  trace.t.forEach((t, k) => {
    if (t < from || t > to || Number.isNaN(trace.i[k])) return;
    amps += trace.i[k];
    volts += trace.v[k];
    n++;
  });
  return n === 0 ? { amps: 0, volts: 0 } : { amps: amps / n, volts: volts / n };
}

/** A sentence of a lesson with the figures of its run in the place of `{before}`, `{peak}`, `{end}` and `{volts}`. */
export function withFigures(says: string, { levels }: DrawnRun): string {
  const current = (amps: number): string => formatCurrent(amps, settings.shownA);
  return says.replaceAll(/\{(before|peak|end|volts)\}/g, (_, name: LessonPlace | 'volts') =>
    name === 'volts' ? formatVoltage(levels.end.volts) : current(levels[name].amps),
  );
}
