import type { Case } from '../case/index.ts';
import { contextFor } from './expectation.ts';
import { predictAll, twinSetupOf, type DeviceTwin } from './device-twin.ts';
import settings from './data/fit.json';
import { compare, fitBetween, fitOf, fitOfNothing, type Comparison, type Fit } from './fit.ts';
import type { Hypothesis } from './hypotheses.ts';
import { takenOff } from './interventions.ts';
import type { PerCircuit } from './model.ts';
import type { SeenRun } from './runs.ts';
import type { Fault } from '../twin/index.ts';

/**
 * Log likelihood of a run for every hypothesis: what the twin shows in the same setup, together with the shares of
 * confirmed causes by pattern. Where the twin cannot stand in the setup, the shares alone.
 *
 * The model's own profile speaks for itself. A generic one does not know which of this model's rails is which, so there
 * the shares say what a pattern means, and the twin adds only what levels, delays and contract say beyond the pattern.
 *
 * @param shares likelihood by circuit from the tables
 */
export function runLogLikelihood(
  value: Case,
  seen: SeenRun,
  twin: DeviceTwin,
  prior: readonly number[],
  shares: PerCircuit,
): { logs: number[]; byTwin: boolean } {
  const table = twin.hypotheses.map((h) => Math.log(Math.max(shares[h.index], 1e-6)));
  const fits = fitsOf(value, seen, twin);
  if (!fits) return { logs: table, byTwin: false };
  const { closeness } = twin;
  const whole = wholeFit(fits, prior);
  const share = closeness === 'own' ? 1 : settings.genericPattern;
  const beyond = share < 1 ? beyondPattern(fits, twin, prior) : whole;
  const told = whole.map((w, h) => {
    // How badly a generic profile fits says little about whether the cause is known at all.
    const generic = closeness === 'generic' && twin.hypotheses[h].circuit === 'unmodelled';
    return generic ? beyond[h] + settings.genericUnmodelled : share * w + (1 - share) * beyond[h];
  });
  const logs = table.map((t, h) => settings.tableWeight[closeness] * t + settings.trust[closeness] * told[h]);
  return { logs, byTwin: true };
}

function fitsOf(value: Case, seen: SeenRun, twin: DeviceTwin): (Fit | null)[] | null {
  const { shape, run } = seen;
  const stood = twinSetupOf(twin, run, shape);
  if (!stood) return null;
  const setup = { ...stood, unplugged: [...stood.unplugged, ...takenOff(value, twin, run)] };
  const f = shape.features;
  const typed = run.instrument.kind === 'eye' || run.typed !== null;
  const intervalS = typed ? settings.eyeIntervalS : Math.min(f.intervalS, 2);
  const eye = { noiseA: f.noiseA, resolutionA: f.resolutionA, intervalS };
  const predicted = predictAll(twin, setup, eye, contextFor(value, run));
  const observed = { features: f, patterns: seen.patterns };
  const compared = predicted.map((p) => (p === null ? null : compare(observed, p, twin.closeness, !typed)));
  const like = compared.find((c) => c !== null);
  return compared.map((c, h) => {
    if (c !== null) return acrossSeverities(twin.hypotheses, compared, h, c);
    return twin.hypotheses[h].circuit === 'unmodelled' && like ? fitOfNothing(observed, like) : null;
  });
}

/** A severity of the grid stands for all up to half way to its neighbours: the mean likelihood of some of them. */
function acrossSeverities(
  hypotheses: readonly Hypothesis[],
  compared: (Comparison | null)[],
  h: number,
  own: Comparison,
): Fit {
  const fits = [fitOf(own)];
  for (const neighbour of [h - 1, h + 1]) {
    const other = compared[neighbour];
    if (!other || !sameButSeverity(hypotheses[h].fault, hypotheses[neighbour].fault)) continue;
    for (const share of settings.betweenSeverities) {
      const fit = fitBetween(own, other, share);
      if (fit) fits.push(fit);
    }
  }
  if (fits.length === 1) return fits[0];
  const mean = (of: (f: Fit) => number): number => {
    const highest = Math.max(...fits.map(of));
    return highest + Math.log(fits.reduce((sum, f) => sum + Math.exp(of(f) - highest), 0) / fits.length);
  };
  const pattern = mean((f) => f.pattern);
  return { pattern, details: mean((f) => f.pattern + f.details) - pattern, agreement: fits[0].agreement };
}

function sameButSeverity(a: Fault | null, b: Fault | null): boolean {
  if (!a || !b || a.value === null || b.value === null) return false;
  return a.kind === b.kind && a.at === b.at && a.side === b.side;
}

/** Log of the mean of exponentials, weighed; what is null is left out. */
function logMean(values: (number | null)[], weights: readonly number[], use: (k: number) => boolean): number {
  let highest = -Infinity;
  values.forEach((x, k) => {
    if (x !== null && use(k)) highest = Math.max(highest, x);
  });
  if (highest === -Infinity) return 0;
  let sum = 0;
  let weight = 0;
  values.forEach((x, k) => {
    if (x === null || !use(k)) return;
    sum += weights[k] * Math.exp(x - highest);
    weight += weights[k];
  });
  return highest + Math.log(Math.max(sum / Math.max(weight, 1e-12), 1e-12));
}

/** What cannot be simulated is neither helped nor harmed by the twin. */
function wholeFit(fits: (Fit | null)[], prior: readonly number[]): number[] {
  const all = fits.map((f) => (f === null ? null : f.pattern + f.details));
  const neutral = logMean(all, prior, () => true);
  return all.map((x) => x ?? neutral);
}

/**
 * Likelihood of the details given the pattern, circuit by circuit, and within a circuit of the whole. A circuit whose
 * elements never bring the pattern in this twin is left where it is.
 */
function beyondPattern(fits: (Fit | null)[], twin: DeviceTwin, prior: readonly number[]): number[] {
  const all = fits.map((f) => (f === null ? null : f.pattern + f.details));
  const patterns = fits.map((f) => f?.pattern ?? null);
  const byCircuit = new Map<number, { told: number; agreement: number; own: number; weight: number }>();
  twin.hypotheses.forEach((h, k) => {
    if (byCircuit.has(h.index) || fits[k] === null || h.circuit === 'unmodelled') return;
    const mine = (j: number): boolean => twin.hypotheses[j].index === h.index;
    const own = logMean(all, prior, mine);
    let agreement = 0;
    let weight = 0;
    fits.forEach((f, j) => {
      if (!mine(j) || f === null) return;
      agreement = Math.max(agreement, f.agreement);
      weight += prior[j];
    });
    byCircuit.set(h.index, { told: own - logMean(patterns, prior, mine), agreement, own, weight });
  });
  const circuits = [...byCircuit.values()];
  const total = circuits.reduce((sum, c) => sum + c.weight * c.agreement, 0);
  const neutral = total > 0 ? circuits.reduce((sum, c) => sum + c.weight * c.agreement * c.told, 0) / total : 0;
  return twin.hypotheses.map((h, k) => {
    const circuit = byCircuit.get(h.index);
    const whole = all[k];
    if (!circuit || whole === null) return neutral;
    const told = circuit.agreement * circuit.told + (1 - circuit.agreement) * neutral;
    return told + (whole - circuit.own);
  });
}
