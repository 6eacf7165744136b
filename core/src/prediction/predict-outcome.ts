import type { CheckId } from '../catalogue/index.ts';
import { conditionOf, goodShare, usualSetup, type Fault, type StartUp } from '../twin/index.ts';
import rules from './check-rules.json';
import { wattsBetween, voltsAt, readsAlike } from './readings-of-start.ts';
import type { Trial } from './trial.ts';
import { starts, healthyPeak } from './trial.ts';

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

/**
 * Whether a fault is one of the display, its light or what drives them.
 *
 * @param t a trial of the model
 * @param f one of its faults
 */
export function isDisplay(t: Trial, f: Fault): boolean {
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

/** The outcome of a check on a device with these faults; null where the twin cannot tell. */
export function predictOutcome(trial: Trial, check: CheckId): string | null {
  return answers[check]?.(trial) ?? null;
}
