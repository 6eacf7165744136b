import { noiseFloor, quantile, type Trace } from '../trace/index.ts';
import { findPulses } from './pulses.ts';
import settings from './settings.json';
import type { VoltageFeatures } from './types.ts';

/** Of a log without a voltage. */
const noVoltage: VoltageFeatures = {
  highest: null,
  tail: null,
  absentShare: 0,
  presentS: 0,
  cycles: null,
  dips: null,
  collapses: 0,
  lostForGood: false,
  longestAwayS: 0,
  sag: null,
};

/** What the feed's voltage did: levels, absences, collapses, regular cycling. */
export function describeVoltage(trace: Trace): VoltageFeatures {
  const t: number[] = [];
  const v: number[] = [];
  for (let k = 0; k < trace.t.length; k++) {
    if (trace.v[k] !== trace.v[k]) continue;
    t.push(trace.t[k]);
    v.push(trace.v[k]);
  }
  const n = v.length;
  if (n === 0) return { ...noVoltage };
  const present = settings.voltagePresent;
  const standing = v.filter((x) => x >= present);
  // Where it stood at all: a feed that was off for most of a run is none the lower for it.
  const level = quantile(standing.length > 1 ? standing : v, settings.levelQuantile);
  let absent = 0;
  let presentS = 0;
  let firstUp = -1;
  let lastUp = -1;
  for (let k = 0; k < n; k++) {
    if (v[k] < present) absent++;
    else {
      if (firstUp < 0) firstUp = k;
      lastUp = k;
      if (k + 1 < n) presentS += t[k + 1] - t[k];
    }
  }
  const held = firstUp < 0 ? [] : v.slice(firstUp, lastUp + 1);
  const tailFrom = Math.floor(lastUp - settings.tailShare * (lastUp - firstUp));
  const times = Float64Array.from(t);
  const volts = Float32Array.from(v);
  const noise = Math.max(noiseFloor(volts, trace.instrument.resolutionV), settings.voltageNoiseV);
  const lowest = held.reduce((least, x) => Math.min(least, x), Infinity);
  return {
    highest: level,
    tail: lastUp < 0 ? v[n - 1] : quantile(v.slice(Math.max(0, tailFrom), lastUp + 1), 0.5),
    absentShare: absent / n,
    presentS,
    cycles: findPulses(times, volts, noise),
    dips:
      trace.quantity === 'voltage-only' && held.length > 0
        ? findPulses(
            times,
            volts.map((x) => Math.max(0, x - lowest)),
            noise,
          )
        : null,
    collapses: countCollapses(held, trace.quantity === 'voltage-only' ? settings.collapseUnderNoCurrent : 0.5),
    lostForGood: isLostForGood(t, v, lastUp),
    longestAwayS: longestAway(t, v, lastUp),
    sag: held.length === 0 ? null : quantile(held, settings.sagQuantile) / Math.max(level, 1e-6),
  };
}

/** Falls under a share of the usual level and back to nearly all of it. */
function countCollapses(v: number[], share: number): number {
  if (v.length === 0) return 0;
  const usual = quantile(v, settings.usualQuantile);
  let collapses = 0;
  let down = false;
  let seenUp = false;
  for (const value of v) {
    if (!down && seenUp && value < share * usual) down = true;
    else if (down && value > (share + 1) * 0.5 * usual) {
      collapses++;
      down = false;
    }
    if (value >= settings.backFrom * usual) seenUp = true;
  }
  return collapses;
}

/** The voltage leaves and the run ends without it, for longer than it was ever away before. */
function isLostForGood(t: number[], v: number[], lastUp: number): boolean {
  const n = t.length;
  if (lastUp < 0 || n - 1 - lastUp < 2) return false;
  const away = t[n - 1] - t[lastUp];
  return away > settings.lostShare * (t[n - 1] - t[0]) && away > settings.lostFactor * longestAway(t, v, lastUp);
}

/** Seconds for which the voltage was away at the longest before it came back, up to an index. */
function longestAway(t: number[], v: number[], lastUp: number): number {
  let longest = 0;
  let since: number | null = null;
  let seenUp = false;
  for (let k = 0; k <= lastUp; k++) {
    const up = v[k] >= settings.voltagePresent;
    if (up && since !== null && seenUp) longest = Math.max(longest, t[k] - since);
    if (up) {
      seenUp = true;
      since = null;
    } else since ??= t[k];
  }
  return longest;
}
