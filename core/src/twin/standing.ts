import type { Board } from './board.ts';
import type { RunningStart } from './running-start.ts';
import { goodShare, type Solution } from './solution.ts';

type At = Pick<RunningStart, 'board' | 'condition'>;
type Need = Board['needs'][number][number];

/** A part that is there, not mute, and on a rail that stands. */
export function partAnswers(run: At, id: string, s: Solution): boolean {
  const p = run.board.partIndex.get(id);
  return p !== undefined && !run.condition.partMute[p] && railStands(run, run.board.partRail[p], s);
}

/**
 * Whether a rail has nearly all of its voltage.
 *
 * @param rail index; -1 for what needs none
 * @param s where the tree came to rest
 */
export function railStands({ board }: At, rail: number, s: Solution): boolean {
  return rail < 0 || s.railV[rail] >= goodShare * board.nominalV[rail];
}

/**
 * Whether what a stage waits for is there.
 *
 * @param need a part or a rail
 * @param s where the tree came to rest
 */
export function needIsMet(run: At, need: Need, s: Solution): boolean {
  if (need.part < 0) return railStands(run, need.rail, s);
  return !run.condition.partMute[need.part] && railStands(run, run.board.partRail[need.part], s);
}

/** A rail that an earlier stage brought up and that has gone since. */
export function lostRail(run: At, stage: number, s: Solution): Need | undefined {
  for (let k = 0; k < stage; k++) {
    const lost = run.board.needs[k].find((n) => n.part < 0 && n.then !== 'skip' && !railStands(run, n.rail, s));
    if (lost) return lost;
  }
  return undefined;
}
