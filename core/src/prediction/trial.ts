import {
  startUp,
  usualSetup,
  type Board,
  type Fault,
  type StartUp,
  type TwinSetup,
  type Workspace,
} from '../twin/index.ts';
import rules from './check-rules.json';
import { wattsBetween, readsAlike } from './readings-of-start.ts';

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

export const starts = (s: StartUp | null): boolean => s !== null && s.running && s.restarts === 0;

/** What a change did to the reading, as a person at the meter would say. */
export type Moved = 'recovers' | 'falls' | 'rises' | 'same';

/** How a start-up moves when something is changed: from `failing` to `tried`. */
export function movedBetween(failing: StartUp, tried: StartUp): Moved {
  if (!starts(failing) && starts(tried)) return 'recovers';
  if (readsAlike(failing, tried)) return 'same';
  const [a, b] = [failing, tried].map((s) => wattsBetween(s, rules.at.earlyFromS, rules.at.lateToS));
  return b < a ? 'falls' : 'rises';
}

const peaks = new WeakMap<Board, number>();
/**
 * The highest power that a healthy unit takes while it starts, W.
 *
 * @param t any trial of the model
 */
export function healthyPeak(t: Trial): number {
  let peak = peaks.get(t.board);
  if (peak === undefined) {
    const s = t.start(t.board.profile.battery ? { feed: 'battery' } : { feed: 'dc-in' }, []);
    peak = s ? Math.max(...s.segments.map((x) => x.highA * x.volts)) : 1;
    peaks.set(t.board, peak);
  }
  return peak;
}
