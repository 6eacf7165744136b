import { feedVolts } from '../catalogue/index.ts';
import { levelOf, type Board } from './board.ts';
import { type Circumstances, type TwinSetup } from './setup.ts';
import { conditionOf } from './condition.ts';
import type { Fault } from './fault.ts';
import settings from './settings.json';
import { makeWorkspace, type Condition, type Solution, type Workspace } from './solution.ts';
import { solveBoard } from './solve.ts';
import { NextEvent } from './next-event.ts';
import type { RunningStart, State } from './running-start.ts';
import { partAnswers } from './standing.ts';
import { segmentOf, type StartUp, type TwinEvent, type TwinSegment } from './timeline.ts';

const maxEvents = 400;
const { attachS, contractS, sagS, reattachS } = settings;

/**
 * Starts a device virtually: quasi-static and driven by events. At each event the tree is solved with the source's own
 * behaviour, then everything holds until the next one. Bounded: never more than a fixed number of events.
 *
 * @param faults none, one, or several at once
 * @throws {RangeError} for a feed, port or element that the device does not have
 */
export function startUp(
  board: Board,
  faults: readonly Fault[],
  setup: TwinSetup,
  workspace = makeWorkspace(board),
): StartUp {
  const already = setup.state === 'off' ? null : reachedBefore(board, faults, setup, workspace);
  return new Run(board, faults, setup, workspace, already).go();
}

/** How far the device was when the run began. */
interface Already {
  stage: number;
  /** It starts over and over, and goes on doing so. */
  loops: boolean;
}

/**
 * A device that is said to run, or to sleep, was started before the run: on its battery, or on the source where it has
 * none. One that cannot start with this fault stands where it stopped.
 */
function reachedBefore(board: Board, faults: readonly Fault[], setup: TwinSetup, workspace: Workspace): Already {
  const { profile } = board;
  const before: TwinSetup = { ...setup, state: 'off', onS: 0, promptS: 0.5, seconds: settings.startedBeforeS };
  if (profile.battery && (setup.feed === 'battery' || setup.battery)) {
    const drained = faults.find((f) => f.kind === 'drained')?.value;
    const volts = setup.feed === 'battery' ? setup.setV : (drained ?? setup.batteryV);
    Object.assign(before, { feed: 'battery', setV: volts, limitA: setup.feed === 'battery' ? setup.limitA : null });
  }
  const start = new Run(board, faults, before, workspace, null).go();
  const stage = start.segments.at(-1)?.stage ?? -1;
  if (!start.running || setup.state === 'running') return { stage, loops: start.restarts > 1 && !start.running };
  const sleeps = profile.stages.filter((s) => settings.sleepStates.includes(s.state)).length;
  return { stage: sleeps - 1, loops: false };
}

class Run implements RunningStart {
  readonly circumstances: Circumstances;
  readonly condition: Condition;
  private readonly following: NextEvent;
  private readonly segments: TwinSegment[] = [];
  private readonly events: TwinEvent[] = [];
  readonly waited = new Set<string>();
  readonly lost = new Set<string>();
  private readonly solved = new Map<string, Solution>();
  private restarts = 0;
  private reached = -1;
  private highestContract = 0;

  constructor(
    readonly board: Board,
    faults: readonly Fault[],
    readonly setup: TwinSetup,
    readonly workspace: Workspace,
    private readonly already: Already | null,
  ) {
    this.circumstances = conditionOf(board, faults, setup);
    this.condition = this.circumstances.condition;
    this.following = new NextEvent(this);
  }

  go(): StartUp {
    const { setup, board } = this;
    const s: State = this.begin();
    let count = 0;
    while (s.t < setup.seconds && count++ < maxEvents) this.step(s);
    const last = board.profile.stages.length - 1;
    return {
      segments: this.segments,
      events: this.events,
      circumstances: this.circumstances,
      stage: this.reached,
      running: s.stage === last && last >= 0,
      restarts: this.restarts,
      waitsFor: [...this.waited],
      lost: [...this.lost],
      contractV: this.highestContract,
      cutOff: s.t < setup.seconds,
    };
  }

  private begin(): State {
    const { setup } = this;
    const on = Math.max(0, setup.onS);
    const empty = solveBoard(this.board, this.condition, 0, this.workspace, 0);
    if (on > 0) this.push(0, Math.min(on, setup.seconds), empty, -1, 0, 'off');
    this.say(on, setup.feed === 'usb-c' ? 'plug' : 'output-on', '');
    const usb = setup.feed === 'usb-c';
    const attached = on + (usb ? attachS : 0);
    if (usb && attached > on) this.push(on, Math.min(attached, setup.seconds), empty, -1, 0, 'off');
    const stage = this.already?.stage ?? -1;
    this.reached = stage;
    return {
      t: attached,
      stage,
      enteredAt: attached,
      startAt: setup.promptS ?? (this.already?.loops ? attached : Infinity),
      external: 0,
      contractV: usb ? feedVolts.plainUsb : 0,
      contractAt: usb ? attached + contractS : Infinity,
      volts: this.circumstances.sourceV,
      // Where it stands now it stays, asleep or waiting, until something changes.
      held: stage >= 0 && stage < this.board.profile.stages.length - 1,
      pressed: setup.promptS === null,
    };
  }

  say(t: number, what: TwinEvent['what'], detail: string): void {
    this.events.push({ t, what, detail });
  }

  private solveNow(s: State): Solution {
    const level = levelOf(this.board, s.external, s.stage);
    const key = `${level} ${s.volts}`;
    let found = this.solved.get(key);
    if (!found) {
      found = solveBoard(this.board, this.condition, level, this.workspace, s.volts);
      this.solved.set(key, found);
    }
    return found;
  }

  private step(s: State): void {
    const { setup } = this;
    const now = this.solveNow(s);
    const again = this.externalOf(s, now);
    if (again > s.external) {
      s.external = again;
      if (again === 2 && this.board.profile.startsOnPower && s.stage < 0)
        s.startAt = Math.min(s.startAt, s.t + settings.startOnPowerS);
      return;
    }
    if (now.mode === 'cc' && setup.feed === 'usb-c') return this.sourceCuts(s, now);
    if (now.sags) return this.sagged(s, now);
    const next = this.following.of(s, now);
    const until = Math.min(setup.seconds, next.t);
    this.push(s.t, until, now, s.stage, s.contractV, null);
    s.t = Math.max(until, s.t);
    if (next.t <= setup.seconds && next.t < Infinity) next.act();
    else s.t = setup.seconds;
  }

  /** 0: only the source; 1: the port's controller has attached; 2: an adapter is accepted. */
  private externalOf(s: State, solution: Solution): number {
    const { setup, board } = this;
    if (setup.feed === 'battery') return s.external;
    if (setup.feed === 'dc-in') return solution.railV[this.condition.feedRail] > settings.dcPresentV ? 2 : 0;
    // A controller that lives from the battery still cannot agree on anything over an open contact.
    if (this.condition.contactOhm === Infinity) return 0;
    const port = board.profile.ports[setup.port - 1];
    if (!partAnswers(this, port.controller, solution)) return s.external;
    const raised = this.circumstances.contracts.length === 0 || s.contractV > feedVolts.raisedFrom;
    const others = port.contractNeeds.every((id) => partAnswers(this, id, solution));
    return raised && others ? 2 : 1;
  }

  enter(s: State, stage: number): void {
    s.stage = stage;
    s.enteredAt = s.t;
    s.held = false;
    this.reached = Math.max(this.reached, stage);
    const last = this.board.profile.stages.length - 1;
    this.say(s.t, stage === last ? 'runs' : 'stage', this.board.profile.stages[stage].id);
  }

  /** A contract was agreed on. */
  raise(volts: number): void {
    this.highestContract = Math.max(this.highestContract, volts);
  }

  fallBack(s: State, again: boolean): void {
    s.stage = -1;
    s.held = false;
    s.startAt = again ? s.t + Math.max(settings.minRestartS, this.board.profile.restartS) : Infinity;
    if (again) this.restarts++;
  }

  /** The supply cannot hold the device: it sags, everything lets go, and the device tries again or waits. */
  private sagged(s: State, now: Solution): void {
    const { setup } = this;
    this.say(s.t, 'sags', '');
    if (s.stage < 0) {
      // Nothing left to let go of: the source and the device take turns for as long as it lasts.
      const rest = this.restSolution(s);
      const pulsed: Solution = {
        ...now,
        pulsing: {
          highA: this.condition.limitA,
          lowA: rest.feedA,
          periodS: settings.sagPulseS,
          duty: settings.sagDuty,
        },
      };
      const until = Math.min(setup.seconds, Math.max(s.t + settings.tickS, s.startAt));
      this.push(s.t, until, pulsed, s.stage, s.contractV, 'pulses');
      s.t = until;
      s.startAt = Infinity;
      return;
    }
    const until = Math.min(setup.seconds, s.t + sagS);
    this.push(s.t, until, now, s.stage, s.contractV, 'limit');
    s.t = until;
    this.fallBack(s, this.board.profile.brownOut === 'restart');
  }

  private restSolution(s: State): Solution {
    return solveBoard(this.board, this.condition, levelOf(this.board, 0, -1), this.workspace, 0.5 * s.volts);
  }

  /** A USB source ends an overload by taking the bus away and starting over. */
  private sourceCuts(s: State, now: Solution): void {
    const { setup } = this;
    this.say(s.t, 'source-cuts', '');
    const blip = Math.min(setup.seconds, s.t + sagS);
    const neverRose = now.feedV < 2;
    this.push(s.t, blip, neverRose ? { ...now, feedA: 0 } : now, s.stage, s.contractV, neverRose ? 'off' : 'limit');
    const again = Math.min(setup.seconds, blip + reattachS);
    const empty = solveBoard(this.board, this.condition, 0, this.workspace, 0);
    this.push(blip, again, empty, -1, 0, 'off');
    const asked = s.stage >= 0 && this.board.profile.startsOnPower;
    if (s.stage >= 0) this.restarts++;
    Object.assign(s, {
      t: again,
      stage: -1,
      external: 0,
      contractV: 5,
      volts: 5,
      contractAt: again + contractS,
      held: false,
      startAt: asked || !s.pressed ? Math.max(again, s.startAt === Infinity ? again : s.startAt) : Infinity,
    });
  }

  push(t0: number, t1: number, s: Solution, stage: number, contractV: number, kind: TwinSegment['kind'] | null): void {
    if (t1 <= t0) return;
    this.segments.push(segmentOf(t0, t1, s, stage, contractV, kind, this.condition.limitA));
  }
}
