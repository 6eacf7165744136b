import { seededRandom } from '../trace/index.ts';
import { compileProfile, type Board } from './board.ts';
import { usualSetup, type TwinSetup } from './setup.ts';
import type { Fault } from './fault.ts';
import type { Profile } from './profile.ts';
import settings from './settings.json';
import { makeWorkspace, type Workspace } from './solution.ts';
import { startUp } from './startup.ts';
import type { StartUp, TwinSegment } from './timeline.ts';

/** Keeps the draws of one seed apart from those of its neighbours. */
const slotSeed = 65_537;

/** What the hands at the bench do to the device. */
export type OperatorAct =
  | { does: 'press' }
  | { does: 'plug'; port: number; flipped: boolean }
  | { does: 'unplug' }
  | { does: 'take-off'; id: string }
  | { does: 'put-back'; id: string }
  | { does: 'battery'; connected: boolean }
  | { does: 'display'; connected: boolean };

/** A bench supply as the device sees it. Volts, amperes. */
export interface SupplyState {
  feed: 'battery' | 'dc-in';
  on: boolean;
  setV: number;
  limitA: number;
}

/** What flows at one instant at the supply's terminals and at the plugged port. Volts, amperes. */
export interface LiveReading {
  supply: { volts: number; amps: number; mode: 'off' | 'cv' | 'cc' };
  port: { volts: number; amps: number; contractV: number };
}

const usualHorizonS = 60;
const farthestS = 960;

/**
 * A device on the bench that can be watched while hands work on it: the twin started again at every change, from where
 * the device was, and read at any later time. Time is the caller's, in seconds, and only goes forward.
 */
export class LiveDevice {
  readonly board: Board;
  private readonly workspace: Workspace;
  private supply: SupplyState = { feed: 'battery', on: false, setV: 0, limitA: 0 };
  private plugged: { port: number; flipped: boolean } | null = null;
  private battery: boolean;
  private display = true;
  private readonly off = new Set<string>();
  /** The start-up that runs now; null while nothing feeds the device. */
  private course: { start: StartUp; setup: TwinSetup; since: number } | null = null;

  /**
   * @param seed of the bursts: the same seed and the same hands give the same currents
   * @throws {ProfileProblem} where the profile does not hold together
   */
  constructor(
    profile: Profile,
    private readonly faults: readonly Fault[],
    private readonly seed: number,
  ) {
    this.board = compileProfile(profile);
    this.workspace = makeWorkspace(this.board);
    this.battery = false;
  }

  /** What is connected, for whoever shows the hands. */
  get state() {
    return {
      plugged: this.plugged,
      battery: this.battery,
      display: this.display,
      off: [...this.off],
      supply: this.supply,
    };
  }

  /** The supply is set or switched. */
  feed(supply: SupplyState, t: number): void {
    const same = (Object.keys(supply) as (keyof SupplyState)[]).every((k) => supply[k] === this.supply[k]);
    if (same) return;
    const wasOn = this.supply.on;
    this.supply = { ...supply };
    if (wasOn || supply.on) this.begin(t, wasOn && supply.on ? this.reached(t) : null);
  }

  /**
   * Somebody at the bench does something.
   *
   * @throws {RangeError} for a port or a part that the device does not have
   */
  act(act: OperatorAct, t: number): void {
    const before = this.reached(t);
    if (act.does === 'press') return this.press(t);
    if (act.does === 'plug') {
      if (!this.board.profile.ports[act.port - 1]) throw new RangeError(`there is no port ${act.port}`);
      this.plugged = { port: act.port, flipped: act.flipped };
    } else if (act.does === 'unplug') this.plugged = null;
    else if (act.does === 'battery') this.battery = act.connected;
    else if (act.does === 'display') this.display = act.connected;
    else {
      if (!this.board.profile.peripherals.some((p) => p.id === act.id))
        throw new RangeError(`"${act.id}" cannot be unplugged`);
      if (act.does === 'take-off') this.off.add(act.id);
      else this.off.delete(act.id);
    }
    this.begin(t, before);
  }

  /** What the instruments would see at a time, before their own errors. */
  at(t: number): LiveReading {
    const { supply, course } = this;
    const dark: LiveReading = {
      supply: { volts: supply.on ? supply.setV : 0, amps: 0, mode: supply.on ? 'cv' : 'off' },
      port: { volts: 0, amps: 0, contractV: 0 },
    };
    if (!course) return dark;
    const rel = this.within(t);
    const segment = segmentAt(course.start, rel);
    if (!segment) return dark;
    const amps = this.ampsAt(segment, rel, course);
    if (course.setup.feed === 'usb-c') {
      const given = supply.on ? segment.solution.batteryA : 0;
      return {
        supply: { ...dark.supply, amps: Math.min(given, supply.limitA), mode: supply.on ? 'cv' : 'off' },
        port: { volts: segment.volts, amps, contractV: segment.contractV },
      };
    }
    const mode = segment.kind === 'limit' || (segment.kind === 'pulses' && amps >= supply.limitA) ? 'cc' : 'cv';
    // The rush into empty capacitors ends at the limit, too.
    const limited = Math.min(amps, supply.limitA);
    return { ...dark, supply: { volts: segment.volts, amps: limited, mode: supply.on ? mode : 'off' } };
  }

  /** How far the device has come at a time: what the screen shows, whether it runs. */
  seen(t: number): { stage: number; screen: string; running: boolean } {
    const stage = this.course ? (segmentAt(this.course.start, this.within(t))?.stage ?? -1) : -1;
    const { stages } = this.board.profile;
    return { stage, screen: stages[stage]?.screen ?? 'dark', running: stage >= 0 && stage === stages.length - 1 };
  }

  private reached(t: number): 'running' | null {
    return this.seen(t).running ? 'running' : null;
  }

  private press(t: number): void {
    const { course } = this;
    if (!course || this.seen(t).stage >= 0) return;
    const setup = { ...course.setup, state: 'off' as const, promptS: t - course.since };
    this.run(setup, course.since, t);
  }

  /** Starts anew from what is connected now. A device that runs goes on running where something still feeds it. */
  private begin(t: number, before: 'running' | null): void {
    const { supply, plugged } = this;
    if (!supply.on && !plugged) {
      this.course = null;
      return;
    }
    const feed = plugged ? 'usb-c' : supply.feed;
    const { profile } = this.board;
    if ((feed === 'battery' && !profile.battery) || (feed === 'dc-in' && !profile.dcIn)) {
      this.course = null;
      return;
    }
    const onBattery = supply.on && supply.feed === 'battery';
    const setup: TwinSetup = {
      ...usualSetup,
      feed,
      setV: feed === 'usb-c' ? null : supply.setV,
      limitA: feed === 'usb-c' ? null : supply.limitA,
      port: plugged?.port ?? 1,
      flipped: plugged?.flipped ?? false,
      battery: feed !== 'battery' && (onBattery || this.battery) && profile.battery !== null,
      batteryV: onBattery ? supply.setV : null,
      display: this.display,
      unplugged: [...this.off],
      state: before ?? 'off',
      onS: 0,
      promptS: null,
    };
    this.run(setup, t, t);
  }

  private run(setup: TwinSetup, since: number, t: number): void {
    const seconds = Math.min(farthestS, Math.max(usualHorizonS, 2 * (t - since) + usualHorizonS));
    const made = { ...setup, seconds };
    this.course = { start: startUp(this.board, this.faults, made, this.workspace), setup: made, since };
  }

  /** The place in the start-up; what goes on for ever goes round in its last minute. */
  private within(t: number): number {
    if (!this.course) return 0;
    let rel = Math.max(0, t - this.course.since);
    if (rel >= this.course.setup.seconds && this.course.setup.seconds < farthestS)
      this.run(this.course.setup, this.course.since, t);
    const end = this.course.start.segments.at(-1)?.t1 ?? 0;
    if (rel >= end) {
      const lap = Math.max(1e-3, Math.min(usualHorizonS, 0.5 * end));
      rel = end - lap + ((rel - end) % lap);
    }
    return rel;
  }

  private ampsAt(s: TwinSegment, rel: number, course: { start: StartUp }): number {
    const into = rel - s.t0;
    if (s.kind === 'pulses' && s.periodS !== null)
      return into % s.periodS < (s.duty ?? settings.unknownDuty) * s.periodS ? s.highA : s.lowA;
    if (s.kind === 'bursts') {
      const slot = Math.floor(rel / settings.burstSlotS);
      return s.lowA + (s.highA - s.lowA) * seededRandom(this.seed * slotSeed + slot)() ** settings.burstSkew;
    }
    const before = course.start.segments.find((x) => x.t1 === s.t0)?.meanA ?? 0;
    const rush =
      s.kind === 'level' && s.meanA > 2 * before && into < settings.inrush.withinS
        ? 0.5 * s.meanA * Math.exp(-into / settings.inrush.decayS)
        : 0;
    return s.meanA + rush;
  }
}

function segmentAt(start: StartUp, rel: number): TwinSegment | undefined {
  let [low, high] = [0, start.segments.length - 1];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (start.segments[middle].t1 <= rel) low = middle + 1;
    else high = middle;
  }
  return start.segments[low];
}
