import { patternTypes } from '../catalogue/index.ts';
import { countOf, formatCurrent, formatPercent, formatSeconds } from '../quantity/index.ts';
import { isHealthy, sameSetup, standingLevel, type History, type SeenRun } from '../observation/index.ts';
import { topPattern } from '../shape/index.ts';
import limits from './limits.json';
import type { Step } from './protocol.ts';

/** A bound on the current of a run, with where it is from. Amperes. */
interface PassLimit {
  minA: number | null;
  maxA: number | null;
  from: string;
}

/** What a run says of a step. */
type Judgement = { fits: true; result: 'pass' | 'fail'; says: string } | { fits: false; says: string };

/**
 * The bound on current that a step has, from what is stated of the model, a healthy unit in the same setup, or the kind
 * of device. Null where it has none.
 *
 * @param referenceA what a healthy unit of the model draws in the same setup, amperes
 */
export function passLimit(history: History, step: Step, referenceA: number | null = null): PassLimit | null {
  const kind = step.run?.limit;
  if (!kind) return null;
  const { figures, value } = history;
  const stated = (key: 'chargeA' | 'quiescentA' | 'idleA'): string =>
    value.device.expect[key] === undefined ? `what a ${value.device.class} draws` : 'what is stated for this model';
  if (kind === 'charge') {
    const [usual, from] =
      referenceA === null ? [figures.chargeA, stated('chargeA')] : [referenceA, 'what a healthy unit drew'];
    return { minA: limits.chargeShare * usual, maxA: null, from: `${formatPercent(limits.chargeShare)} of ${from}` };
  }
  if (kind === 'off') {
    const [usual, from] =
      referenceA === null ? [figures.quiescentA, stated('quiescentA')] : [referenceA, 'what a healthy unit drew'];
    return {
      minA: null,
      maxA: limits.offTimes * Math.max(usual, limits.minOffA),
      from: `${limits.offTimes} times ${from}`,
    };
  }
  return {
    minA: null,
    maxA: limits.asleepShareOfIdle * figures.idleA,
    from: `${formatPercent(limits.asleepShareOfIdle)} of ${stated('idleA')} awake`,
  };
}

/** What a step needs to pass, as a sentence; empty where looking is enough. */
export function needsOf(history: History, step: Step): string {
  const minutes = step.run?.minMinutes;
  const limit = passLimit(history, step);
  const time = minutes === undefined ? '' : countOf(minutes, 'minute', 'minutes');
  if (limit?.minA != null)
    return minutes === undefined
      ? `Needs a run with at least ${formatCurrent(limit.minA)}.`
      : `Needs a recording of at least ${time}, with at least ${formatCurrent(limit.minA)}.`;
  if (limit?.maxA != null) return `Needs a run with at most ${formatCurrent(limit.maxA)}.`;
  if (step.waitMinutes !== null && minutes !== undefined)
    return `Needs the timer, or a recording of at least ${time} without a restart.`;
  if (step.waitMinutes !== null) return `Needs the timer: ${countOf(step.waitMinutes, 'minute', 'minutes')}.`;
  return minutes === undefined ? '' : `Needs a recording of at least ${time}.`;
}

/** What a long run shows of a device that should just go on: that it began again, or that its draw wanders. Null where neither. */
function unsteady({ run, shape }: SeenRun): string | null {
  const { pulses, dropOuts } = shape.features.whole;
  if (pulses !== null || dropOuts > 0) return `run ${run.id} shows a restart`;
  const levels = shape.segments.filter((s) => s.meanA !== null && s.kind !== 'gap');
  const last = levels.at(-1);
  if (!last) return null;
  const end = shape.summary.lastS;
  const mean = (from: number, to: number): number => {
    const parts = levels.map((s) => ({ a: s.meanA ?? 0, t: Math.max(0, Math.min(s.t1, to) - Math.max(s.t0, from)) }));
    const seconds = parts.reduce((sum, p) => sum + p.t, 0);
    return seconds > 0 ? parts.reduce((sum, p) => sum + p.a * p.t, 0) / seconds : 0;
  };
  // A start is no drift: the second quarter stands for how it ran at first.
  const quarter = (end ?? 0) / quarters;
  const [first, later] = [mean(quarter, 2 * quarter), mean((quarters - 1) * quarter, quarters * quarter)];
  if (first <= 0 || later <= 0) return `run ${run.id} falls to nothing`;
  return Math.abs(later - first) > limits.soakDrift * Math.max(first, later)
    ? `run ${run.id} drifts from ${formatCurrent(first)} to ${formatCurrent(later)}`
    : null;
}

const quarters = 4;
const secondsAMinute = 60;

/**
 * Holds a run against a step: whether it is a run of that kind at all, and whether it passes.
 *
 * @param referenceA what a healthy unit of the model draws in the same setup, amperes
 */
export function judgeRun(history: History, step: Step, seen: SeenRun, referenceA: number | null = null): Judgement {
  const misfit = misfitOf(history, step, seen);
  if (misfit) return { fits: false, says: misfit };
  const { run: demand } = step;
  const pattern = topPattern(seen.patterns);
  if (demand?.shows === 'start' && !patternTypes[pattern].isFullStart)
    return { fits: true, result: 'fail', says: `run ${seen.run.id} is not a full start` };
  if (demand?.shows === 'healthy' && !isHealthy(seen))
    return { fits: true, result: 'fail', says: `run ${seen.run.id} does not show what a healthy device shows` };
  const wanders = demand?.steady ? unsteady(seen) : null;
  if (wanders) return { fits: true, result: 'fail', says: wanders };
  const limit = passLimit(history, step, referenceA);
  const { amps, resolutionA } = standingLevel(seen);
  if (limit && amps !== null) {
    const says = (word: string, bound: number): string =>
      `${formatCurrent(amps, resolutionA)}, ${word} ${formatCurrent(bound)} (${limit.from})`;
    // A display shows no less than its last digit.
    const spare = resolutionA / 2;
    // A full battery draws little, and so does an empty one at first: little of a healthy charge proves nothing yet.
    if (limit.minA !== null && amps + spare < limit.minA)
      return {
        fits: false,
        says: `Run ${seen.run.id}: ${says('less than', limit.minA)}. A full battery draws little, and so does an empty one at first. Charge it from half empty.`,
      };
    if (limit.maxA !== null && amps - spare > limit.maxA)
      return { fits: true, result: 'fail', says: says('more than', limit.maxA) };
    return {
      fits: true,
      result: 'pass',
      says: limit.minA !== null ? says('at least', limit.minA) : says('at most', limit.maxA ?? 0),
    };
  }
  return { fits: true, result: 'pass', says: `run ${seen.run.id} shows it` };
}

/** Why a run cannot prove a step, as a sentence; null where it can. */
function misfitOf({ value, seen: all, epochOf }: History, step: Step, { run, shape }: SeenRun): string | null {
  const { run: demand, at } = step;
  if (epochOf(run.after) !== value.actions.length)
    return `Run ${run.id} was made before the last change and shows the device as it was then. Record a new one.`;
  if (run.setup.unplugged.length > 0)
    return `Run ${run.id} was made with parts unplugged (${run.setup.unplugged.join(', ')}). A proof needs everything connected.`;
  if (demand?.feeds && !demand.feeds.includes(run.feed))
    return `Run ${run.id} was made on ${run.feed}; this step needs ${demand.feeds.join(' or ')}.`;
  if (at && ((run.setup.port ?? 1) !== at.port || run.setup.flipped !== at.flipped))
    return `Run ${run.id} was made at port ${run.setup.port ?? 1}${run.setup.flipped ? ', plug flipped' : ''}; this step needs port ${at.port}${at.flipped ? ', plug flipped' : ''}.`;
  const states: readonly (string | null)[] | undefined = demand?.deviceStates;
  if (states && !states.includes(run.setup.deviceState))
    return `Run ${run.id} does not say that the device was ${states.join(' or ')}; correct its setup if it was.`;
  const seconds = demand?.minMinutes === undefined ? 0 : secondsAMinute * demand.minMinutes;
  const isTimed = run.typed === null || run.typed.includes('@');
  if (seconds > 0 && !isTimed)
    return `Run ${run.id} was typed without times. This step needs a recording of at least ${countOf(demand?.minMinutes ?? 0, 'minute', 'minutes')}.`;
  if (shape.features.whole.seconds < seconds)
    return `Run ${run.id} is ${formatSeconds(shape.features.whole.seconds)} long. This step needs at least ${countOf(demand?.minMinutes ?? 0, 'minute', 'minutes')}.`;
  if (demand?.unprompted && shape.features.prompted)
    return `Power was pressed in run ${run.id}; this step needs a run without a press.`;
  if (demand?.like === 'first' && all[0] && !sameSetup(all[0].run, run))
    return `Run ${run.id} was made in a different setup from the first run (${all[0].run.id}); this step repeats that setup.`;
  return null;
}

/**
 * Whether a battery draws charge, from its voltage at two times while it charges.
 *
 * @param fromV earlier voltage, volts
 * @param toV later voltage, volts
 * @param minutes between them
 */
export function judgeRise(
  fromV: number,
  toV: number,
  minutes: number,
): { result: 'pass' | 'fail'; says: string } | null {
  if (minutes < limits.minMinutesApart) return null;
  const rose = toV - fromV;
  const says = `${fromV.toFixed(2)} V to ${toV.toFixed(2)} V in ${minutes} minutes`;
  return { result: rose >= limits.riseV ? 'pass' : 'fail', says };
}
