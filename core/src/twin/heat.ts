import type { Board } from './board.ts';
import type { Condition, Solution } from './solution.ts';

/**
 * Watts that turn into heat in converters, in shorts by rail, and in loads by rail.
 *
 * @param s where the tree came to rest
 * @returns by converter, and twice by rail
 */
export function heatOf(
  board: Board,
  condition: Condition,
  s: Solution,
): { converters: number[]; shorts: number[]; loads: number[] } {
  const { converters, rails } = board.profile;
  return {
    converters: converters.map((_, c) => {
      const given = board.to[c].reduce((sum, r) => sum + Math.min(s.railV[r] * s.railA[r], s.railV[r] * s.outA[c]), 0);
      return Math.max(0, s.inA[c] * s.railV[board.from[c]] - given);
    }),
    shorts: rails.map((_, r) => s.railV[r] ** 2 * condition.groundS[r]),
    loads: rails.map((_, r) =>
      Math.max(
        0,
        s.railV[r] *
          (s.railA[r] - s.railV[r] * condition.groundS[r] - board.leaving[r].reduce((sum, c) => sum + s.inA[c], 0)),
      ),
    ),
  };
}
