import settings from './recalibration.json';

/** One circuit of a call, with whether it was it. */
interface CalledCircuit {
  p: number;
  wasIt: boolean;
}

/** A call that was kept, as percentages by circuit before any correction. */
export type KnownCall = readonly CalledCircuit[];

/** Calls one behind the other, as they go to another thread. */
export interface PackedCalls {
  /** Percentages of all calls, 0 to 1. */
  p: Float64Array;
  /** How many of them belong to each call. */
  lengths: Uint16Array;
  /** Place in each call of what it was; -1 where it is not among them. */
  was: Int16Array;
}

/** The calls of a pack. */
export function unpackCalls({ p, lengths, was }: PackedCalls): KnownCall[] {
  let from = 0;
  return Array.from(lengths, (length, k) => {
    const call = Array.from(p.subarray(from, from + length), (x, c) => ({ p: x, wasIt: c === was[k] }));
    from += length;
    return call;
  });
}

/** A monotone correction of percentages: `logit p' = slope · logit p + shift`, slope above 0. */
export interface Recalibration {
  slope: number;
  shift: number;
  /** Calls that it was fitted on, and what it gains on calls that were left out: mean natural log, with its standard error. */
  cases: number;
  gain: number;
  gainError: number;
}

const held = (p: number): number => Math.min(1 - settings.edge, Math.max(settings.edge, p));
const logit = (p: number): number => Math.log(held(p) / (1 - held(p)));

/**
 * A percentage after the correction, before the circuits of a call are scaled to 100 % again.
 *
 * @param p 0 to 1
 * @example correctedP(0.8, { slope: 1, shift: 0 }) // 0.8
 */
export function correctedP(p: number, { slope, shift }: Pick<Recalibration, 'slope' | 'shift'>): number {
  return 1 / (1 + Math.exp(-(slope * logit(p) + shift)));
}

/** All circuits of a call after the correction; sums to what it summed to before, in the same order of probability. */
export function recalibratedP(p: readonly number[], correction: Pick<Recalibration, 'slope' | 'shift'>): number[] {
  const total = p.reduce((sum, x) => sum + x, 0);
  const list = p.map((x) => (x > 0 ? correctedP(x, correction) : 0));
  const sum = list.reduce((a, b) => a + b, 0);
  return sum > 0 ? list.map((x) => (x * total) / sum) : [...p];
}

/**
 * A correction from the shop's own calls, and only where it helps: fitted by maximum likelihood on all circuits of the calls
 * (Platt 1999), held to no correction by a prior, and judged on calls that it was not fitted on.
 *
 * @param calls in the order in which they were made
 * @returns null where there are too few calls, or where it does not help calls that were left out by more than a standard error
 */
export function fitRecalibration(calls: readonly KnownCall[]): Recalibration | null {
  if (calls.length < settings.minCases) return null;
  const gains = calls.map(() => 0);
  for (let fold = 0; fold < settings.folds; fold++) {
    const fitted = fit(calls.filter((_, k) => k % settings.folds !== fold));
    calls.forEach((call, k) => {
      if (k % settings.folds === fold) gains[k] = scoreOf(call, fitted) - scoreOf(call, { slope: 1, shift: 0 });
    });
  }
  const gain = gains.reduce((a, b) => a + b, 0) / gains.length;
  const variance = gains.reduce((sum, g) => sum + (g - gain) ** 2, 0) / Math.max(1, gains.length - 1);
  const gainError = Math.sqrt(variance / gains.length);
  if (gain <= gainError) return null;
  return { ...fit(calls), cases: calls.length, gain, gainError };
}

/** Natural log of what the circuit that it was got after a correction. */
function scoreOf(call: KnownCall, correction: Pick<Recalibration, 'slope' | 'shift'>): number {
  const after = recalibratedP(
    call.map((c) => c.p),
    correction,
  );
  const at = call.findIndex((c) => c.wasIt);
  return Math.log(Math.max(at < 0 ? 0 : after[at], settings.edge));
}

/** Newton's method on two numbers; the likelihood with its prior has one summit. */
function fit(calls: readonly KnownCall[]): { slope: number; shift: number } {
  const points = calls.flatMap((call) =>
    call.filter((c) => c.p >= settings.minP).map((c) => ({ x: logit(c.p), y: Number(c.wasIt) })),
  );
  let [slope, shift] = [1, 0];
  for (let step = 0; step < settings.steps; step++) {
    const { priorSlope, priorShift } = settings;
    let [ga, gb, haa, hab, hbb] = [(1 - slope) * priorSlope, -shift * priorShift, priorSlope, 0, priorShift];
    for (const { x, y } of points) {
      const q = 1 / (1 + Math.exp(-(slope * x + shift)));
      const w = q * (1 - q);
      ga += (y - q) * x;
      gb += y - q;
      haa += w * x * x;
      hab += w * x;
      hbb += w;
    }
    const determinant = haa * hbb - hab * hab;
    slope = Math.max(settings.minSlope, slope + (hbb * ga - hab * gb) / determinant);
    shift += (haa * gb - hab * ga) / determinant;
  }
  return { slope, shift };
}
