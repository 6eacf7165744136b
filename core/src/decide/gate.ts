import { actionTypes, checkTypes, circuitIds, type ActionKind, type CircuitId } from '../catalogue/index.ts';
import { sumBy, type PerHypothesis } from '../inference/index.ts';
import { isOfCircuit, type Candidate, type ChangeCandidate } from '../observation/index.ts';
import { makesSense } from './makes-sense.ts';
import policy from './policy.json';
import type { Stage } from './stage.ts';
import type { Grouping, Standing } from './standing.ts';

/** What was put in to see tells as much as what was replaced. */
const isAlike = (done: ActionKind, proposed: ActionKind): boolean =>
  done === proposed || (done === 'trial' && proposed === 'replace');

const isChange = (c: Candidate): c is ChangeCandidate & { action: { circuit: CircuitId } } =>
  c.id.startsWith('action:');

/** Leaves out what is not to be proposed where the work stands now. */
export function gateCandidates(
  { posterior, history }: Standing,
  grouping: Grouping,
  candidates: readonly Candidate[],
  stage: Stage,
): Candidate[] {
  const worthReplacing = grouping.isElements ? leadingElements(posterior, grouping) : new Set<string>();
  const circuits = sumBy(posterior, history.space.circuitOf, circuitIds.length);
  const p = (id: CircuitId | null): number => (id === null ? 0 : circuits[circuitIds.indexOf(id)]);
  const { value } = history;
  const notDone = new Set<string>(policy.notDoneHere);
  const shortLeads = stage.shorts.length > 0;
  const unfed = stage.shorts.some((s) => s.fed === 0 && s.hot === null);
  /** What this shop does not do, and what would lose the data that is wanted. */
  const isRefused = ({ kind, circuit }: NonNullable<Candidate['action']>): boolean =>
    circuit !== null &&
    ((!actionTypes[kind].isLight && notDone.has(circuit)) ||
      (value.intake.dataWanted && policy.losesData.includes(circuit)));
  return candidates.filter((c) => {
    if (c.id.startsWith('place:') || c.id.startsWith('ground:damage:'))
      return makesSense(history, c) && !(c.action && isRefused(c.action));
    if (!makesSense(history, c)) return false;
    // Elements are worked on where the question is which of them it is, circuits where it is which circuit.
    if (c.id.startsWith('element:')) return worthReplacing.has(c.at?.[0] ?? '') && !unfed;
    if (isChange(c)) {
      if (grouping.isElements && (c.needs === 'nothing' || c.needs === 'suspicion' || c.needs === 'proof'))
        return false;
      const { kind, circuit } = c.action;
      if (stage.unmoved.has(circuit) && kind !== 'remove') return false;
      if (isRefused(c.action)) return false;
      if (kind === 'replace' && circuit === 'battery.pack' && (value.intake.batterySwollen || !history.figures.battery))
        return false;
      if (kind !== 'remove' && value.actions.some((a) => isAlike(a.kind, kind) && isOfCircuit(a, circuit)))
        return false;
      // A short that was measured is fed before anything is replaced on suspicion.
      if (
        shortLeads &&
        c.needs !== 'located' &&
        c.needs !== 'short-behind' &&
        !(c.needs === 'proof' && stage.shorts.some((s) => s.hotCircuit === circuit))
      )
        return false;
      return p(circuit) >= policy.minP[c.needs];
    }
    if (!shortLeads) return true;
    // What is shorted is known; what warms is the question now, and other points of what hangs on it.
    if (c.kind === 'injection')
      return (
        stage.shorts.some((s) => s.where === c.where && s.hot === null) || !stage.shorts.some((s) => s.hot !== null)
      );
    if (c.check !== null) return checkTypes[c.check].tellsElements ?? false;
    if (c.kind === 'reading' && c.mode !== 'voltage' && !unfed) return true;
    return c.kind === 'reading' && c.mode !== 'voltage' && stage.shorts.some((s) => s.circuit === c.circuit);
  });
}

/** Elements that are suspected enough to be replaced, the likeliest few. */
function leadingElements(posterior: PerHypothesis, { of, groups }: Grouping): Set<string> {
  const p = sumBy(posterior, of, groups.length);
  const leaders = [...p.keys()].filter((g) => p[g] >= policy.replaceFrom).sort((a, b) => p[b] - p[a]);
  return new Set(leaders.slice(0, policy.maxReplaced).map((g) => groups[g].id));
}
