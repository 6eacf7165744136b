import type { Board } from './board.ts';
import type { Circumstances, TwinSetup } from './setup.ts';
import type { Condition, Solution, Workspace } from './solution.ts';
import type { TwinEvent, TwinSegment } from './timeline.ts';

/** Where a start-up stands. Times in seconds of the run. */
export interface State {
  t: number;
  stage: number;
  enteredAt: number;
  /** When the first stage begins by itself or after the press; Infinity while nobody asked. */
  startAt: number;
  external: number;
  contractV: number;
  contractAt: number;
  volts: number;
  /** The stage waits for something for ever. */
  held: boolean;
  pressed: boolean;
}

/** A start-up under way: what it runs on, and what can happen to it. */
export interface RunningStart {
  readonly board: Board;
  readonly setup: TwinSetup;
  readonly circumstances: Circumstances;
  readonly condition: Condition;
  readonly workspace: Workspace;
  /** What it waited for in vain, by id. */
  readonly waited: Set<string>;
  /** Rails that were up and went away again, by id. */
  readonly lost: Set<string>;
  say(t: number, what: TwinEvent['what'], detail: string): void;
  push(t0: number, t1: number, s: Solution, stage: number, contractV: number, kind: TwinSegment['kind'] | null): void;
  enter(s: State, stage: number): void;
  fallBack(s: State, again: boolean): void;
  raise(volts: number): void;
}
