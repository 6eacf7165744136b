import { type Board } from './board.ts';
import settings from './settings.json';
import { type Condition, type Workspace } from './solution.ts';

export const { loadsFrom } = settings;

export const fromFeed = -2;

/**
 * Height of the bursts of activity as the feed sees them.
 *
 * @param level index of a power level of the board
 * @param ws the solution at this level
 * @param volts at the feed
 * @returns amperes at the feed
 */
export function burstA(board: Board, condition: Condition, level: number, ws: Workspace, volts: number): number {
  const bursts = board.bursts[level];
  let watts = 0;
  for (let l = 0; l < bursts.length; l++) {
    const r = board.loadRail[l];
    if (bursts[l] === 0 || condition.loadAbsent[l] || ws.railV[r] < loadsFrom * board.profile.rails[r].nominalV)
      continue;
    if (!fedByFeed(board, ws, r)) continue;
    watts += bursts[l] * ws.railV[r];
  }
  return volts > 0 ? watts / (settings.typicalEfficiency * volts) : 0;
}

function fedByFeed(board: Board, ws: Workspace, rail: number): boolean {
  let r = rail;
  for (let k = 0; k < board.order.length; k++) {
    const source = ws.source[r];
    if (source < 0) return source === fromFeed;
    r = board.from[source];
  }
  return false;
}
