import { checkIds, checkTypes, namedChecks, circuitNames, type CheckId } from '../catalogue/index.ts';
import { goodShare, type Board } from '../twin/index.ts';
import settings from './fit.json';
import type { Closeness } from './fit.ts';
import type { Trial } from './trial.ts';

/** Checks that ask for a whole ladder of readings; what they find is told by the first rail that is wrong. */
export const ladderChecks: readonly CheckId[] = checkIds.filter((id) => checkTypes[id].readBy === 'ladder');

const ranks = settings.ranks as Record<string, number>;

/**
 * What measuring the rails in order would find first on a device with these faults: the lowest rail that is missing
 * while the device holds, or the one that is low to ground. Under a generic profile its circuit stands for the rail.
 *
 * @returns a phrase, the same for all faults that read alike; null where the twin cannot tell
 */
export function firstOnLadder(trial: Trial, check: CheckId, closeness: Closeness): string | null {
  const { board } = trial;
  const wrong = check === namedChecks.voltages ? missingRails(trial) : shortedRails(trial);
  if (wrong === null) return null;
  const [first] = wrong.sort((a, b) => rankOf(board, a) - rankOf(board, b) || a - b);
  if (first === undefined) return check === namedChecks.voltages ? 'all rails are up' : 'no rail is low to ground';
  const rail = board.profile.rails[first];
  const name = closeness === 'own' ? rail.name : circuitNames[rail.circuit];
  return check === namedChecks.voltages ? `first missing: ${name}` : `low to ground: ${name}`;
}

function rankOf(board: Board, rail: number): number {
  return ranks[board.profile.rails[rail].state] ?? 2;
}

/** Rails that stand in a healthy unit while it holds, and do not here. */
function missingRails(trial: Trial): number[] | null {
  const held = (t: Trial): ArrayLike<number> | null => {
    const s = t.bench() ?? t.outside();
    return (
      s?.segments.find((x) => x.t0 <= settings.railsAtS && settings.railsAtS < x.t1)?.railV ??
      s?.segments.at(-1)?.railV ??
      null
    );
  };
  const [sick, healthy] = [held(trial), held(trial.healthyTwin())];
  if (!sick || !healthy) return null;
  const { nominalV } = trial.board;
  return [...nominalV.keys()].filter(
    (k) => healthy[k] >= goodShare * nominalV[k] && sick[k] < settings.lowRatio * nominalV[k],
  );
}

function shortedRails(trial: Trial): number[] | null {
  const s = trial.bench() ?? trial.outside();
  if (!s) return null;
  const { groundS } = s.circumstances.condition;
  return [...groundS.keys()].filter(
    (k) => 1 / (groundS[k] + 1 / settings.usualRailOhm) < settings.tellingRatio * settings.usualRailOhm,
  );
}
