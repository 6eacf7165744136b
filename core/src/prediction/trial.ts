import type { CheckId } from '../catalogue/index.ts';
import {
  conditionOf,
  goodShare,
  startUp,
  usualSetup,
  type Board,
  type Fault,
  type StartUp,
  type TwinSetup,
  type Workspace,
} from '../twin/index.ts';
import rules from './check-rules.json';

const healthyTrials = new WeakMap<Board, Trial>();

/** The usual start-ups from which the outcomes of checks are read, made when first asked for. */
export class Trial {
  private readonly made = new Map<string, StartUp | null>();
  private plainOutside: { made: StartUp | null } | null = null;
  private plainBench: { made: StartUp | null } | null = null;

  constructor(
    readonly board: Board,
    readonly faults: readonly Fault[],
    private readonly workspace: Workspace,
  ) {}

  /** A start-up in one of the usual setups; null where the device has no such feed. */
  start(change: Partial<TwinSetup>, faults = this.faults): StartUp | null {
    const key = JSON.stringify([change, faults.length]);
    const known = this.made.get(key);
    if (known !== undefined) return known;
    let made: StartUp | null = null;
    try {
      made = startUp(this.board, faults, { ...usualSetup, limitA: null, seconds: 26, ...change }, this.workspace);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
    }
    this.made.set(key, made);
    return made;
  }

  /** Gives up the start-ups made so far; they are made again when asked for. */
  forget(): void {
    this.made.clear();
    this.plainOutside = this.plainBench = null;
  }

  private twin: Trial | null = null;
  /** The same board without a fault. */
  healthyTwin(): Trial {
    this.twin ??= healthyTrials.get(this.board) ?? new Trial(this.board, [], this.workspace);
    healthyTrials.set(this.board, this.twin);
    return this.twin;
  }

  /** On the charger with the battery in, pressed after a while; a DC input or the battery feed where there is no port. */
  outside(change?: Partial<TwinSetup>, faults = this.faults): StartUp | null {
    if (change === undefined) return (this.plainOutside ??= { made: this.outside({}) }).made;
    const { profile } = this.board;
    const feed = profile.ports.length > 0 ? 'usb-c' : profile.dcIn ? 'dc-in' : 'battery';
    return this.start({ feed, battery: feed !== 'battery', promptS: 6, ...change }, faults);
  }

  /** On the supply with the battery out. */
  bench(change?: Partial<TwinSetup>, faults = this.faults): StartUp | null {
    if (change === undefined) return (this.plainBench ??= { made: this.bench({}) }).made;
    const feed = this.board.profile.battery ? 'battery' : 'dc-in';
    return this.start({ feed, limitA: rules.benchLimitA, promptS: 4, ...change }, faults);
  }
}

/** Mean watts at the feed between two instants. */
function wattsBetween(s: StartUp, t0: number, t1: number): number {
  let sum = 0;
  let seconds = 0;
  for (const x of s.segments) {
    const overlap = Math.min(x.t1, t1) - Math.max(x.t0, t0);
    if (overlap <= 0) continue;
    sum += x.meanA * x.volts * overlap;
    seconds += overlap;
  }
  return seconds > 0 ? sum / seconds : 0;
}

function voltsAt(s: StartUp, t: number): number {
  return s.segments.find((x) => x.t0 <= t && t < x.t1)?.volts ?? 0;
}

/** Whether two start-ups read the same to somebody at a meter. */
function readsAlike(a: StartUp, b: StartUp): boolean {
  const alike = (x: number, y: number): boolean =>
    Math.abs(x - y) <= Math.max(rules.alikeW, rules.alikeShare * Math.max(x, y));
  return (
    Math.abs(voltsAt(a, rules.at.settledS) - voltsAt(b, rules.at.settledS)) < 0.5 &&
    alike(
      wattsBetween(a, rules.at.earlyFromS, rules.at.earlyToS),
      wattsBetween(b, rules.at.earlyFromS, rules.at.earlyToS),
    ) &&
    alike(wattsBetween(a, rules.at.lateFromS, rules.at.lateToS), wattsBetween(b, rules.at.lateFromS, rules.at.lateToS))
  );
}

const starts = (s: StartUp | null): boolean => s !== null && s.running && s.restarts === 0;

/** What a change did to the reading, as a person at the meter would say. */
export type Moved = 'recovers' | 'falls' | 'rises' | 'same';

/** How a start-up moves when something is changed: from `failing` to `tried`. */
export function movedBetween(failing: StartUp, tried: StartUp): Moved {
  if (!starts(failing) && starts(tried)) return 'recovers';
  if (readsAlike(failing, tried)) return 'same';
  const [a, b] = [failing, tried].map((s) => wattsBetween(s, rules.at.earlyFromS, rules.at.lateToS));
  return b < a ? 'falls' : 'rises';
}

type Answer = (trial: Trial) => string | null;

function compared(failing: StartUp | null, tried: StartUp | null): string | null {
  if (!failing || !tried) return null;
  if (!starts(failing) && starts(tried)) return 'recovers';
  return readsAlike(failing, tried) ? 'same' : 'changed';
}

/** What each check would show; null where the twin cannot tell. */
const answers: Partial<Record<CheckId, Answer>> = {
  'other-port': (t) => {
    if (t.board.profile.ports.length < 2) return 'single-port';
    const [a, b] = [t.outside(), t.outside({ port: 2 })];
    return a && b ? (readsAlike(a, b) ? 'same' : 'different') : null;
  },
  'flipped-plug': (t) => {
    if (t.board.profile.ports.length === 0) return null;
    const [a, b] = [t.outside(), t.outside({ flipped: true })];
    return a && b ? (readsAlike(a, b) ? 'same' : 'different') : null;
  },
  'charge-indicator': (t) => {
    const s = t.outside();
    return s ? (indicatorLit(t, s) ? 'on' : 'off') : null;
  },
  'press-response': (t) => {
    const s = t.board.profile.battery ? t.bench() : t.outside();
    if (!s) return null;
    const at = t.board.profile.battery ? rules.at.pressS : rules.at.plugS;
    const before = wattsBetween(s, at - 1, at);
    const after = wattsBetween(s, at, at + rules.at.forS);
    const peak = s.segments.reduce(
      (most, x) => (x.t0 >= at - rules.at.slackS ? Math.max(most, x.highA * x.volts) : most),
      0,
    );
    if (starts(s)) return 'start';
    if (s.segments.some((x) => x.kind === 'limit' && x.t0 >= at)) return 'surge';
    if (after - before < rules.responseW + rules.responseShare * before) return 'none';
    return peak > rules.surgeOverPeak * healthyPeak(t)
      ? 'surge'
      : s.stage >= t.board.profile.stages.length - rules.lastStages
        ? 'start'
        : 'small';
  },
  screen: (t) => {
    const s = t.bench() ?? t.outside();
    if (!s) return null;
    const shown = t.board.profile.stages[s.stage]?.screen ?? 'dark';
    const panel = t.board.profile.parts.findIndex((p) => p.role === 'display');
    const display = t.faults.some((f) => t.board.profile.parts[panel]?.id === f.at) || displayRailDown(t, s);
    if (display && shown !== 'dark') return 'dark';
    return s.restarts > 0 && shown === 'logo' ? 'logo-loop' : shown;
  },
  fan: (t) => {
    const s = t.bench() ?? t.outside();
    if (!s || !t.board.profile.stages.some((x) => x.fan)) return s ? 'no-fan' : null;
    const turns = s.stage >= 0 && t.board.profile.stages[s.stage].fan;
    return !turns ? 'none' : s.restarts > 0 ? 'twitch' : 'spins';
  },
  'host-detects': (t) => {
    const s = t.bench() ?? t.outside();
    return s ? (s.stage < 0 ? 'nothing' : t.board.profile.stages[s.stage].host) : null;
  },
  charges: (t) => {
    if (!t.board.profile.battery || t.outside() === null) return null;
    const amps = chargeAmps(t, t.faults);
    const healthy = chargeAmps(t, []);
    if (healthy <= 0) return null;
    return amps > rules.chargesFrom * healthy ? 'yes' : amps > rules.chargesSlowlyFrom * healthy ? 'slow' : 'no';
  },
  'usb-wakes': (t) => {
    if (!t.board.profile.battery) return null;
    const noButton = t.faults.filter((f) => t.board.profile.parts.find((p) => p.id === f.at)?.role !== 'button');
    return starts(t.outside({}) ?? null) ||
      (noButton.length < t.faults.length && starts(t.start({ feed: 'battery', limitA: rules.benchLimitA }, noButton)))
      ? 'yes'
      : 'no';
  },
  'battery-disconnected': (t) =>
    t.board.profile.battery ? compared(t.outside(), t.outside({ battery: false })) : null,
  'known-good-display': (t) => {
    const others = t.faults.filter((f) => !isDisplay(t, f));
    const s = t.start(
      { feed: t.board.profile.battery ? 'battery' : 'dc-in', limitA: rules.benchLimitA, promptS: 4 },
      others,
    );
    return s ? (starts(s) ? 'image' : 'no-image') : null;
  },
  'peripherals-unplugged': (t) => {
    const all = t.board.profile.peripherals.map((p) => p.id);
    return all.length > 0 ? compared(t.bench(), t.bench({ unplugged: all })) : null;
  },
  'voltage-sweep': (t) => {
    const { battery } = t.board.profile;
    if (!battery) return null;
    const [low, high] = [
      t.bench({ setV: battery.nominalV * rules.sweepLow }),
      t.bench({ setV: battery.nominalV * rules.sweepHigh }),
    ];
    if (!low || !high) return null;
    const [a, b] = [low, high].map(
      (s) =>
        wattsBetween(s, rules.at.earlyFromS, rules.at.restToS) / Math.max(voltsAt(s, rules.at.restS), rules.minVolts),
    );
    const [x, y] =
      a > rules.sweepLeastA
        ? [a, b]
        : [low, high].map(
            (s) =>
              wattsBetween(s, rules.at.lateFromS, rules.at.lateToS) /
              Math.max(voltsAt(s, rules.at.lateS), rules.minVolts),
          );
    if (x < rules.sweepFromA) return null;
    const change = y / x - 1;
    return change > rules.sweepRises ? 'rises' : change < rules.sweepFalls ? 'falls' : 'flat';
  },
  'main-rail-resistance': (t) => {
    const { profile } = t.board;
    const { condition } = conditionOf(t.board, t.faults, {
      ...usualSetup,
      feed: profile.battery ? 'battery' : 'dc-in',
    });
    let siemens = 0;
    profile.rails.forEach((r, k) => {
      if (r.circuit === 'rail.main') siemens += condition.groundS[k];
    });
    if (siemens === 0) return 'normal';
    return 1 / siemens < rules.shortOhm ? 'short' : 1 / siemens < rules.lowOhm ? 'low' : 'normal';
  },
};

function isDisplay(t: Trial, f: Fault): boolean {
  const { profile } = t.board;
  return [...profile.parts, ...profile.rails, ...profile.converters, ...profile.loads].some(
    (x) => x.id === f.at && x.circuit === 'display',
  );
}

function displayRailDown(t: Trial, s: StartUp): boolean {
  const last = s.segments.at(-1);
  if (!last) return false;
  return t.board.profile.rails.some(
    (r, k) => r.circuit === 'display' && s.running && last.railV[k] < goodShare * r.nominalV,
  );
}

/** A charge indicator needs external power accepted and whoever drives it alive. */
function indicatorLit(t: Trial, s: StartUp): boolean {
  const { board } = t;
  const segment = s.segments.find((x) => x.t0 <= rules.at.earlyToS && rules.at.earlyToS < x.t1);
  if (!segment || segment.volts < 1) return false;
  const { condition } = s.circumstances;
  const drivers = board.profile.parts.flatMap((p, k) =>
    p.role === 'sequencer' || p.role === 'port-controller' ? [k] : [],
  );
  const used = board.profile.ports[0]?.controller;
  return drivers.every((k) => {
    const part = board.profile.parts[k];
    if (part.role === 'port-controller' && part.id !== used) return true;
    const rail = board.partRail[k];
    return !condition.partMute[k] && (rail < 0 || segment.railV[rail] >= goodShare * board.nominalV[rail]);
  });
}

function chargeAmps(t: Trial, faults: readonly Fault[]): number {
  const { battery, ports } = t.board.profile;
  if (!battery) return 0;
  const feed = ports.length > 0 ? 'usb-c' : 'dc-in';
  const s = t.start(
    { feed, battery: true, promptS: null, batteryV: 0.5 * (battery.emptyV + battery.nominalV) },
    faults,
  );
  return s?.segments.at(-1)?.solution.chargeA ?? 0;
}

const peaks = new WeakMap<Board, number>();
function healthyPeak(t: Trial): number {
  let peak = peaks.get(t.board);
  if (peak === undefined) {
    const s = t.start(t.board.profile.battery ? { feed: 'battery' } : { feed: 'dc-in' }, []);
    peak = s ? Math.max(...s.segments.map((x) => x.highA * x.volts)) : 1;
    peaks.set(t.board, peak);
  }
  return peak;
}

/** The outcome of a check on a device with these faults; null where the twin cannot tell. */
export function predictOutcome(trial: Trial, check: CheckId): string | null {
  return answers[check]?.(trial) ?? null;
}

/** Whether the owner of a device would notice: it takes much less or much more than a healthy one, or another contract. */
function isNoticed(sick: StartUp, healthy: StartUp): boolean {
  if (sick.running !== healthy.running || sick.restarts !== healthy.restarts) return true;
  if (Math.abs(voltsAt(sick, rules.at.settledS) - voltsAt(healthy, rules.at.settledS)) >= 0.5) return true;
  return [
    [rules.at.earlyFromS, rules.at.earlyToS],
    [rules.at.lateFromS, rules.at.lateToS],
  ].some(([t0, t1]) => {
    const [a, b] = [wattsBetween(sick, t0, t1), wattsBetween(healthy, t0, t1)];
    return a > rules.noticedMore * b + rules.alikeW || a < rules.noticedLess * b - rules.alikeW;
  });
}

/**
 * Whether anybody would bring a device with this fault to a bench: it does not start, has no picture, does not charge as
 * it should on some port, drains while it rests, or takes so much that it warms and runs down.
 */
export function hasSymptom(trial: Trial): boolean {
  if (trial.faults.length === 0) return false;
  const healthy = trial.healthyTwin();
  const setups: ((t: Trial) => StartUp | null)[] = [
    (t) => t.bench(),
    (t) => t.outside(),
    (t) => t.outside({ flipped: true }),
    ...trial.board.profile.ports.slice(1).map((_, k) => (t: Trial) => t.outside({ port: k + 2 })),
    (t) => t.outside({ promptS: null }),
  ];
  const noticed = setups.some((s) => {
    const [a, b] = [s(trial), s(healthy)];
    return a !== null && b !== null && isNoticed(a, b);
  });
  if (noticed || trial.faults.some((f) => isDisplay(trial, f) && f.kind !== 'short')) return true;
  const [a, b] = [trial, healthy].map((t) => {
    const s = t.bench();
    return s ? wattsBetween(s, rules.at.earlyFromS, rules.at.restToS) : 0;
  });
  return a > 2 * b + rules.drainW;
}
