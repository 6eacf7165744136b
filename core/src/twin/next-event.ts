import type { RunningStart, State } from './running-start.ts';
import settings from './settings.json';
import type { Solution } from './solution.ts';
import { solveBoard } from './solve.ts';
import { partAnswers, needIsMet, lostRail } from './standing.ts';

const { contractS, sagS } = settings;
const settleBeforeStageS = 0.01;

interface Event {
  /** Seconds of the run; Infinity where it never comes. */
  t: number;
  act: () => void;
}

/** What happens next by itself to a start-up. */
export class NextEvent {
  constructor(private readonly run: RunningStart) {}

  /** The next thing that happens by itself, and what it does. */
  of(s: State, now: Solution): Event {
    const choices = [
      this.contractEvent(s, now),
      this.promptEvent(s, now),
      this.stageEvent(s, now),
      this.interruption(s),
    ];
    return choices.reduce((a, b) => (b.t < a.t ? b : a));
  }

  /** A loose contact lets go at uneven times, for uneven times. */
  private interruption(s: State): Event {
    if (!this.run.circumstances.loose) return never;
    const k = settings.looseAtS.findIndex((t) => this.run.setup.onS + t >= s.t + settings.minStepS);
    if (k < 0) return never;
    const [t, seconds] = [settings.looseAtS[k], settings.looseForS[k % settings.looseForS.length]];
    return {
      t: this.run.setup.onS + t,
      act: () => {
        this.run.say(s.t, 'lets-go', '');
        const empty = solveBoard(this.run.board, this.run.condition, 0, this.run.workspace, 0);
        const usb = this.run.setup.feed === 'usb-c';
        const until = Math.min(this.run.setup.seconds, s.t + seconds);
        this.run.push(s.t, until, usb ? empty : { ...empty, feedV: s.volts }, -1, 0, 'off');
        s.t = until;
        const again = s.stage >= 0;
        if (again || s.pressed) this.run.fallBack(s, again && this.run.board.profile.brownOut === 'restart');
        if (usb) Object.assign(s, { external: 0, contractV: 5, volts: 5, contractAt: until + contractS });
      },
    };
  }

  private contractEvent(s: State, now: Solution): Event {
    const port = this.run.board.profile.ports[this.run.setup.port - 1];
    const next = this.run.circumstances.contracts.find((v) => v > s.contractV + settings.contractStepV);
    const able = next !== undefined && s.contractAt < Infinity && s.external >= 1;
    if (!able || !port.contractNeeds.every((id) => partAnswers(this.run, id, now))) return never;
    const highest = this.run.circumstances.contracts.at(-1) ?? next;
    return {
      t: Math.max(s.contractAt, s.t),
      act: () => {
        s.contractV = highest;
        s.volts = highest;
        this.run.raise(highest);
        this.run.say(s.t, 'contract', `${highest} V`);
      },
    };
  }

  private promptEvent(s: State, now: Solution): Event {
    const asleep = s.held && this.run.setup.state === 'asleep';
    if ((s.stage >= 0 && !asleep) || s.startAt === Infinity) return never;
    return {
      t: Math.max(s.startAt, s.t),
      act: () => {
        const byHand = !s.pressed;
        s.pressed = true;
        s.startAt = Infinity;
        if (byHand) this.run.say(s.t, 'prompt', '');
        const parts = this.run.board.profile.parts.filter(
          (p) => p.role === 'sequencer' || (byHand && p.role === 'button'),
        );
        const deaf = parts.filter((p) => !partAnswers(this.run, p.id, now));
        deaf.forEach((p) => this.run.waited.add(p.id));
        if (deaf.length > 0) return;
        if (asleep) Object.assign(s, { held: false, enteredAt: s.t });
        else if (this.run.board.profile.stages.length > 0) this.run.enter(s, 0);
      },
    };
  }

  private stageEvent(s: State, now: Solution): Event {
    if (s.stage < 0 || s.held) return never;
    const { stages } = this.run.board.profile;
    const spec = stages[s.stage];
    const lost = lostRail(this.run, s.stage, now);
    if (lost) {
      this.run.lost.add(lost.id);
      return {
        t: s.t + sagS,
        act: () => {
          this.run.say(s.t, 'gives-up', lost.id);
          this.run.fallBack(s, this.run.board.profile.brownOut === 'restart');
        },
      };
    }
    const missing = this.run.board.needs[s.stage].find((n) => n.then !== 'skip' && !needIsMet(this.run, n, now));
    if (!missing) {
      if (s.stage === this.run.board.profile.stages.length - 1) return never;
      return {
        t: Math.max(s.enteredAt + Math.max(spec.seconds, settleBeforeStageS), s.t),
        act: () => this.run.enter(s, s.stage + 1),
      };
    }
    this.run.waited.add(missing.id);
    if (missing.then === 'hold') {
      return {
        t: s.t,
        act: () => {
          s.held = true;
          this.run.say(s.t, 'waits', missing.id);
        },
      };
    }
    return {
      t: Math.max(s.enteredAt + Math.max(missing.timeoutS, settleBeforeStageS), s.t),
      act: () => {
        this.run.say(s.t, 'gives-up', missing.id);
        this.run.fallBack(s, missing.then === 'restart');
      },
    };
  }
}

const never: Event = { t: Infinity, act: (): void => undefined };
