import { courseWindows, type Features, type Phase, type Pulses, type VoltageFeatures } from '../shape/index.ts';
import type { StartUp, TwinSegment, TwinSetup } from '../twin/index.ts';
import seen from './seen.json';

/** What of the instrument decides whether something could be seen. */
export interface InstrumentLimits {
  noiseA: number;
  resolutionA: number;
  intervalS: number;
}

/** Of what the twin repeats: it jitters hardly. */
const regular = { jitter: 0.02, plateau: 0.9 };

interface Stretch {
  t0: number;
  t1: number;
  seconds: number;
  amps: number;
  high: number;
  watts: number;
  volts: number;
  kind: TwinSegment['kind'];
}

/** The features that the recogniser would measure in a run of this start-up, were it recorded through this instrument. */
export function featuresOf(start: StartUp, setup: TwinSetup, instrument: InstrumentLimits): Features {
  const [from, end] = [setup.onS, setup.seconds];
  const all = stretches(start, from, end, instrument);
  const prompt = setup.promptS;
  const loop = loopOf(start, end, instrument);
  const before = prompt === null ? null : phase(all, from, prompt, instrument, null, loop);
  return {
    whole: phase(all, from, end, instrument, 0, loop),
    before,
    after: prompt === null ? null : phase(all, prompt, end, instrument, before?.levelA ?? 0, loop),
    asleep: null,
    prompted: prompt !== null,
    promptT: prompt,
    startsHot: false,
    promptInferred: false,
    endedOff: false,
    onSeen: true,
    voltage: voltageOf(start, from, end, setup.feed === 'usb-c'),
    noiseA: instrument.noiseA,
    resolutionA: instrument.resolutionA,
    intervalS: instrument.intervalS,
    limitKnownA: Number.isFinite(start.circumstances.condition.limitA) ? start.circumstances.condition.limitA : null,
    contradictions: [],
    course: courseOf(start, prompt ?? from, end),
    smoothShare: 0,
  };
}

/** Mean power at the feed in the windows of the course. */
function courseOf(start: StartUp, t0: number, end: number): (number | null)[] {
  return courseWindows.map(([from, to]) => {
    if (end - t0 < seen.courseCover * to) return null;
    const [a, b] = [t0 + from, Math.min(t0 + to, end)];
    let joules = 0;
    for (const s of start.segments) joules += s.meanA * s.volts * Math.max(0, Math.min(s.t1, b) - Math.max(s.t0, a));
    return joules / (b - a);
  });
}

/** Segments as a slow instrument would tell them apart: what is shorter than a sample is not seen. */
function stretches(start: StartUp, from: number, end: number, instrument: InstrumentLimits): Stretch[] {
  const least = seen.minIntervals * instrument.intervalS;
  const out: Stretch[] = [];
  for (const s of start.segments) {
    const t0 = Math.max(from, s.t0);
    const t1 = Math.min(end, s.t1);
    if (t1 - t0 <= 0 || (t1 - t0 < least && t1 < end)) continue;
    const fast = s.kind === 'pulses' && (s.periodS ?? 1) < seen.pulseIntervals * instrument.intervalS;
    const high = s.kind === 'bursts' ? s.lowA + seen.burstHigh * (s.highA - s.lowA) : fast ? s.meanA : s.highA;
    const amps = s.meanA < Math.max(0.5 * instrument.resolutionA, 1e-4) ? 0 : s.meanA;
    out.push({ t0, t1, seconds: t1 - t0, amps, high, watts: amps * s.volts, volts: s.volts, kind: s.kind });
  }
  return out;
}

function phase(
  all: Stretch[],
  t0: number,
  t1: number,
  instrument: InstrumentLimits,
  fromA: number | null,
  loop: Pulses | null,
): Phase {
  const parts = within(all, t0, t1);
  const seconds = parts.reduce((sum, p) => sum + p.seconds, 0);
  const share = (test: (s: Stretch) => boolean): number =>
    seconds === 0 ? 0 : parts.filter(test).reduce((sum, p) => sum + p.seconds, 0) / seconds;
  const sorted = [...parts].sort((a, b) => a.amps - b.amps);
  let run = 0;
  const middle = sorted.find((p) => (run += p.seconds) >= seconds / 2) ?? null;
  const peak = parts.reduce<Stretch | null>((best, p) => (best === null || p.high > best.high ? p : best), null);
  const tail = parts.at(-1) ?? null;
  const fast = parts.find((p) => p.kind === 'pulses' && p.seconds > seen.pulsedShare * seconds);
  const isZero = (s: Stretch): boolean => s.amps <= Math.max(seen.zeroA, seen.zeroResolution * instrument.resolutionA);
  const atTop = parts.filter((p) => p.kind !== 'bursts' && p.amps >= seen.topFrom * (peak?.high ?? 0));
  return {
    seconds,
    samples: instrument.intervalS > 0 ? Math.round(seconds / instrument.intervalS) : 0,
    levelA: middle?.amps ?? null,
    levelW: middle?.watts ?? null,
    peakA: peak?.high ?? null,
    peakW: peak ? peak.high * peak.volts : null,
    peakAfterS: peak ? peak.t0 - t0 : null,
    riseAfterS: riseAfter(parts, t0, instrument, fromA),
    tailA: tail?.amps ?? null,
    tailW: tail?.watts ?? null,
    tailSeconds: tail?.seconds ?? 0,
    tailKind: tail && tailKindOf(tail, isZero(tail)),
    topHoldS: Math.max(0, ...atTop.map((p) => p.seconds)),
    ...stepsOf(parts, t0, instrument, fromA ?? parts[0]?.amps ?? 0),
    reversals: reversalsOf(parts),
    limitShare: share((p) => p.kind === 'limit'),
    burstShare: share((p) => p.kind === 'bursts' && p.high > seen.burstRatio * p.amps + 2 * instrument.noiseA),
    zeroShare: share(isZero),
    levelShare: share((p) => p.kind === 'level' && !isZero(p)),
    rampShare: 0,
    pulses: fast ? pulsesOf(fast, all, loop) : loop && loop.t1 > t0 && loop.t0 < t1 ? loop : null,
    dropOuts: loop ? 0 : dropOuts(parts, isZero),
  };
}

/** How often the level turns round by a share that no freeze moves, without beginning again from a small part of its height. */
function reversalsOf(parts: readonly Stretch[]): number {
  let [reversals, direction, height, extreme] = [0, 0, 0, parts[0]?.amps ?? 0];
  for (const { amps } of parts) {
    height = Math.max(height, amps);
    const step = amps - extreme;
    const way = Math.sign(step);
    const isClear = Math.abs(step) > seen.reversal * Math.min(extreme, amps) && Math.abs(step) > seen.zeroA;
    if (isClear && direction !== 0 && way !== direction) reversals++;
    if (isClear) direction = way;
    if (isClear || way === direction) extreme = amps;
    if (amps < seen.beginsAgainUnder * height) [reversals, height] = [0, amps];
  }
  return reversals;
}

/** The stretches between two instants, cut there. */
function within(all: readonly Stretch[], t0: number, t1: number): Stretch[] {
  return all
    .filter((s) => s.t1 > t0 && s.t0 < t1)
    .map((s) => {
      const [from, to] = [Math.max(s.t0, t0), Math.min(s.t1, t1)];
      return { ...s, t0: from, t1: to, seconds: to - from };
    });
}

function tailKindOf(tail: Stretch, isZero: boolean): Phase['tailKind'] {
  if (tail.kind === 'off' || isZero) return 'zero';
  return tail.kind === 'limit' || tail.kind === 'bursts' || tail.kind === 'pulses' ? tail.kind : 'level';
}

/** Seconds until the current rises by what the instrument shows; null where it never does. */
function riseAfter(parts: Stretch[], t0: number, instrument: InstrumentLimits, fromA: number | null): number | null {
  const rise = parts.find((p, k) => {
    const before = parts[k - 1]?.amps;
    const least = Math.max(seen.riseNoise * instrument.noiseA, seen.riseShare * (before ?? 0), seen.riseA);
    return before !== undefined && p.high - before > least;
  });
  if (rise) return rise.t0 - t0;
  const first = parts.at(0);
  return first && fromA !== null && first.amps > seen.promptRise * fromA + seen.promptA ? 0 : null;
}

/** How often the current climbs to a level above all before, and when it last does. */
function stepsOf(
  parts: Stretch[],
  t0: number,
  { noiseA, resolutionA }: InstrumentLimits,
  fromA: number,
): Pick<Phase, 'steps' | 'lastStepAfterS'> {
  let steps = 0;
  let lastStepAfterS: number | null = null;
  let highest = fromA;
  for (const p of parts) {
    if (p.amps <= highest * seen.stepFactor + seen.stepNoise * noiseA + seen.stepResolution * resolutionA) continue;
    steps++;
    highest = p.amps;
    lastStepAfterS = p.t0 - t0;
  }
  return { steps, lastStepAfterS };
}

function pulsesOf(stretch: Stretch, all: Stretch[], loop: Pulses | null): Pulses | null {
  const found = all.find((s) => s === stretch) ?? stretch;
  return loop && loop.t0 >= found.t0 - 1e-6 ? loop : null;
}

function dropOuts(parts: Stretch[], isZero: (s: Stretch) => boolean): number {
  let drops = 0;
  let up = false;
  let down = false;
  for (const p of parts) {
    const zero = isZero(p);
    if (down && !zero) drops++;
    down = zero && up;
    up ||= !zero;
  }
  return drops;
}

/** The repetition in a start-up: a converter that retries, or a sequence that begins again and again. */
function loopOf(start: StartUp, end: number, instrument: InstrumentLimits): Pulses | null {
  const fast = start.segments.find((s) => s.kind === 'pulses' && s.t1 - s.t0 > seen.pulsesFrom * (s.periodS ?? 1));
  if (fast && (fast.periodS ?? 0) >= seen.pulseIntervals * instrument.intervalS) {
    const periodS = fast.periodS ?? 1;
    const t1 = Math.min(fast.t1, end);
    return {
      t0: fast.t0,
      t1,
      periodS,
      duty: fast.duty ?? seen.unknownDuty,
      count: Math.floor((t1 - fast.t0) / periodS),
      lowA: fast.lowA,
      highA: fast.highA,
      jitter: 0.02,
      flatTop: 0.6,
      plateau: 0.9,
    };
  }
  if (start.circumstances.loose) return null;
  const begins = start.events
    .filter(
      (e, k, list) =>
        e.what === 'stage' &&
        e.t < end &&
        list.findIndex((x) => x.what === 'stage') >= 0 &&
        e.detail === firstStageOf(start) &&
        k >= 0,
    )
    .map((e) => e.t);
  if (begins.length < seen.cyclesFrom) return null;
  const gaps = begins.slice(1).map((t, k) => t - begins[k]);
  const periodS = gaps.reduce((a, b) => a + b, 0) / gaps.length;
  if (gaps.some((g) => Math.abs(g - periodS) > seen.cycleSpread * periodS) || periodS < 2 * instrument.intervalS)
    return null;
  const inside = start.segments.filter((s) => s.t0 >= begins[0] - 1e-9 && s.t0 < begins[1] - 1e-9);
  const highA = Math.max(...inside.map((s) => s.highA));
  const lowA = Math.min(...inside.map((s) => s.lowA));
  const busy = inside.filter((s) => s.meanA > 0.5 * (highA + lowA)).reduce((sum, s) => sum + s.t1 - s.t0, 0);
  return {
    t0: begins[0],
    t1: Math.min(end, begins[begins.length - 1] + periodS),
    periodS,
    duty: Math.max(seen.minDuty, busy / periodS),
    count: begins.length,
    lowA,
    highA,
    ...regular,
    flatTop: 0.4,
  };
}

function firstStageOf(start: StartUp): string {
  return start.events.find((e) => e.what === 'stage')?.detail ?? '';
}

/** The voltage at the feed over the run: only a USB source takes it away by itself. */
function voltageOf(start: StartUp, from: number, end: number, usb: boolean): VoltageFeatures {
  const segments = start.segments.filter((s) => s.t1 > from && s.t0 < end);
  const present = (s: TwinSegment): boolean => s.volts >= 1;
  const settled = segments.filter((s) => s.t0 >= from + seen.settlesInS);
  const presentS = segments.filter(present).reduce((sum, s) => sum + s.t1 - s.t0, 0);
  const total = segments.reduce((sum, s) => sum + s.t1 - s.t0, 0);
  const highest = segments.reduce((best, s) => Math.max(best, s.t1 - s.t0 > seen.minPresentS ? s.volts : 0), 0);
  const cuts = start.events.filter((e) => e.what === 'source-cuts' && e.t < end).map((e) => e.t);
  const rises = cuts.length >= seen.cyclesFrom && presentS > seen.presentFromS;
  const periodS = rises ? (cuts[cuts.length - 1] - cuts[0]) / (cuts.length - 1) : 0;
  return {
    highest,
    tail: segments.at(-1)?.volts ?? null,
    absentShare: total === 0 ? 0 : 1 - presentS / total,
    presentS,
    dips: null,
    cycles:
      rises && usb
        ? {
            t0: cuts[0],
            t1: end,
            periodS,
            duty: Math.min(seen.maxDuty, presentS / Math.max(total, 1e-9)),
            count: cuts.length,
            lowA: 0,
            highA: highest,
            ...regular,
            flatTop: 0.9,
          }
        : null,
    collapses: usb ? cuts.length + start.events.filter((e) => e.what === 'lets-go' && e.t < end).length : 0,
    lostForGood: false,
    longestAwayS: 0,
    sag: highest > 0 ? Math.min(highest, ...settled.map((s) => s.volts)) / highest : null,
  };
}
