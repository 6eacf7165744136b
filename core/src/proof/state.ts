import { type CircuitId, actionTypes } from '../catalogue/index.ts';
import type { History, SeenRun } from '../observation/index.ts';
import { sayAction } from '../case/index.ts';
import { earlierRun, isConfounded, isHealthy, swollenPack } from '../observation/index.ts';
import { compareRuns } from './comparing.ts';
import { leftOff, protocolsOf } from './open.ts';
import type { FunctionLists, Step } from './protocol.ts';
import { stepsOf } from './steps.ts';

/** One protocol as it stands for a device. */
interface ProtocolState {
  id: string;
  name: string;
  minutes: number;
  says: string;
  proves: string;
  /** Of the workmanship alone: it tells a customer nothing. */
  inHouse: boolean;
  steps: Step[];
}

/** What the last change did, from the run before it and the newest since. */
export interface SinceChange {
  action: string;
  /** Ids of the two runs. */
  before: string;
  now: string;
  /** What changed, in a sentence or two. */
  says: string;
  isNormal: boolean;
  normal: string;
}

/** Where the proof of a repair stands. */
export interface ProofState {
  protocols: ProtocolState[];
  /** What was taken off the board and is not there now, in words, with its circuit. */
  leftOff: { says: string; circuit: CircuitId | null }[];
  /** What may come back, in sentences. */
  risks: string[];
  since: SinceChange | null;
}

/** Where the proof of a repair stands: protocols with their steps, what is off the board, what the last change did. */
export function proofState(history: History, lists: FunctionLists = {}): ProofState {
  return {
    protocols: protocolsOf(history).map((p) => ({
      id: p.id,
      name: p.name,
      minutes: p.minutes,
      says: p.says,
      proves: p.proves,
      inHouse: p.inHouse ?? false,
      steps: stepsOf(history, p, lists),
    })),
    leftOff: leftOff(history).map((a) => ({ says: sayAction(a), circuit: a.circuit })),
    risks: risksOf(history),
    since: sinceChange(history),
  };
}

/** What a repair leaves behind that may come back: liquid, joints that were heated, parts of a donor, a pack to be replaced. */
function risksOf(history: History): string[] {
  const { value } = history;
  const kept = value.actions.filter((a) => !value.actions.some((b) => b.undoes === a.id));
  const out: string[] = [];
  if (value.intake.liquid)
    out.push('It had liquid damage. Residue under the chips can spread for weeks. Check it again in a month.');
  const isNew = kept.some((a) => a.kind === 'replace' && a.unit === 'pack' && a.with !== 'own');
  if (swollenPack(value) !== null && !isNew) out.push('The swollen battery must be replaced. It must not go back in.');
  for (const action of kept) {
    const { leaves } = actionTypes[action.kind];
    if (leaves) out.push(`${sayAction(action)}: ${leaves}`);
    if (action.kind !== 'reflow' && isConfounded(action))
      out.push(`${sayAction(action)}: the part or joint may itself be bad.`);
  }
  return out;
}

function sinceChange(history: History): SinceChange | null {
  const { value, seen, epochOf } = history;
  const action = value.actions.at(-1);
  if (!action) return null;
  const since = seen.filter((s) => epochOf(s.run.after) === value.actions.length);
  // The newest that shows a fault says more than a later one that shows none of it.
  const newest = since.findLast((s) => !isHealthy(s)) ?? since.at(-1);
  const before: SeenRun | null = newest ? earlierRun(history, newest) : null;
  if (!newest || !before) return null;
  const { says, normal } = compareRuns(before, newest);
  return {
    action: sayAction(action),
    before: before.run.id,
    now: newest.run.id,
    says,
    isNormal: normal.is,
    normal: normal.says,
  };
}
