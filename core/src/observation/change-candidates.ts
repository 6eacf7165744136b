import {
  actionTypes,
  circuitIds,
  depthOf,
  namedChecks,
  withArticle,
  type ActionKind,
  type CircuitId,
} from '../catalogue/index.ts';
import table from './actions.json';
import { movedQuestion } from './moved.ts';
import { batteryId, elementIds, targetOf, type Profile } from '../twin/index.ts';
import { stepObject, type Candidate, type History, type StepAction } from './kind.ts';
import { shortsOf } from './shorts.ts';

/** What must be known before a change is worth proposing. */
export type Needs = 'nothing' | 'suspicion' | 'residue' | 'located' | 'proof' | 'short-behind';

export interface ChangeCandidate extends Candidate {
  action: StepAction & { circuit: CircuitId };
  needs: Needs;
}

interface Row {
  kind: string;
  /** Left out where its name is what is done and to what. */
  name?: string;
  minutes: number | null;
  depth: number;
  needs: string;
}

/** Changes that are tests too: unplugging, cleaning, taking off what warmed, replacing what was proven. */
export function changeCandidates(history: History): Candidate[] {
  return [...circuitChanges(history), ...elementChanges(history)];
}

function circuitChanges(history: History): ChangeCandidate[] {
  const question = movedQuestion(history.space, history.value.actions.length + 1);
  const tables = table as unknown as Record<string, Row[]>;
  return circuitIds
    .filter((id) => id !== 'none' && id !== 'unmodelled')
    .flatMap((circuit) =>
      [...(tables[circuit] ?? []), ...tables.any.filter((row) => isPossible(row.kind as ActionKind, circuit))].flatMap(
        (row) => make(history, circuit, row, question) ?? [],
      ),
    )
    .filter((c) => isMet(history, c));
}

function isPossible(kind: ActionKind, circuit: CircuitId): boolean {
  if (kind === 'replace') return table.soldered.includes(circuit);
  if (kind === 'remove') return table.rails.includes(circuit);
  return circuit !== 'input.port';
}

function make(history: History, circuit: CircuitId, row: Row, question: Candidate['question']): ChangeCandidate | null {
  const kind = row.kind as ActionKind;
  const warm = shortsOf(history).find((s) => !s.isGone && s.hotCircuit === circuit)?.hot ?? null;
  const found = warm ?? foundAt(history, circuit, kind === 'clean' ? table.dirty : ['cracked', 'burnt']);
  const target = kind === 'remove' || kind === 'replace' || kind === 'clean' ? (found ?? '') : '';
  // A rail is no part that could come off; of a phase that is short with its coil lifted, its transistors are.
  const phase = kind === 'remove' && circuit === 'core.supply' ? shortPhase(history) : null;
  const object = stepObject(target || phase, kind === 'remove' ? null : circuit);
  if (object === null) return null;
  return {
    id: `action:${kind}:${circuit}`,
    kind: 'action',
    check: null,
    action: { kind, circuit, target, object },
    where: target || null,
    mode: null,
    circuit,
    minutes: row.minutes ?? 0,
    depth: row.depth,
    question,
    name: row.name ?? sayStep(kind, object),
    needs: row.needs as Needs,
  };
}

/** The transistors at a place of the core supply that was measured short; null where none was. */
function shortPhase(history: History): string | null {
  const short = shortsOf(history).findLast((s) => !s.isGone && s.circuit === 'core.supply');
  return short ? `transistors at ${withArticle(short.where)}` : null;
}

/** What is done and to what, as a heading: "Remove the capacitor beside the plug". */
export const sayStep = (kind: ActionKind, object: string): string =>
  `${actionTypes[kind].imperative} ${withArticle(object)}`;

/** Where damage of some kind was seen at a circuit, in the words of whoever saw it. */
function foundAt(history: History, circuit: CircuitId, outcomes: readonly string[]): string | null {
  const seen = history.value.checks.findLast(
    (c) => c.id === namedChecks.look && c.circuit === circuit && outcomes.includes(c.outcome ?? ''),
  );
  return seen?.where || null;
}

/** Facts that a change needs before it is more than a guess; what the belief must say is the planner's business. */
function isMet(history: History, candidate: ChangeCandidate): boolean {
  const { circuit, kind } = candidate.action;
  const { value } = history;
  const shorts = shortsOf(history).filter((s) => !s.isGone);
  switch (candidate.needs) {
    case 'residue':
      return (
        value.checks.some(
          (c) => c.id === namedChecks.look && c.circuit === circuit && table.dirty.includes(c.outcome ?? ''),
        ) && !value.actions.some((a) => a.kind === 'clean' && a.circuit === circuit)
      );
    case 'located':
      return (
        shorts.some((s) => s.hot !== null && s.hotCircuit === circuit) ||
        // With its coils lifted nothing but the transistors is left on the pin between them.
        (circuit === 'core.supply' &&
          shorts.some((s) => s.circuit === 'core.supply') &&
          value.actions.some((a) => a.kind === 'isolate' && a.circuit === 'core.supply')) ||
        (shorts.some((s) => s.circuit === circuit) &&
          value.checks.some(
            (c) => c.id === namedChecks.look && c.circuit === circuit && ['cracked', 'burnt'].includes(c.outcome ?? ''),
          ))
      );
    case 'short-behind':
      return (
        shorts.some((s) => s.circuit === 'rail.main') &&
        value.injections.some((i) => i.hotCircuit === 'core.soc' || i.hotCircuit === 'core.supply')
      );
    case 'proof':
      return isTouched(history, circuit);
    default:
      return kind !== 'reload-firmware' || !value.intake.dataWanted;
  }
}

/** Something was found at the circuit itself: measured, seen, or warm. */
function isTouched({ value }: History, circuit: CircuitId): boolean {
  return (
    value.readings.some((r) => r.circuit === circuit) ||
    value.checks.some(
      (c) => c.circuit === circuit && (c.id === namedChecks.heat || table.damaged.includes(c.outcome ?? '')),
    ) ||
    value.injections.some((i) => i.hotCircuit === circuit || i.circuit === circuit)
  );
}

/** Every element of the model's own profile that can be replaced; rails are not: what is shorted on them is found first. */
function elementChanges(history: History): Candidate[] {
  const { space, value } = history;
  if (space.closeness !== 'own') return [];
  const { profile } = space.twin.board;
  const question = movedQuestion(space, value.actions.length + 1);
  return replaceable(profile).flatMap((id): Candidate[] => {
    const target = targetOf(profile, id);
    const object = target && stepObject(target.name, target.circuit);
    if (!target || !object) return [];
    const circuit = target.circuit;
    const pulls = id === batteryId || profile.peripherals.some((p) => p.id === id);
    return [
      {
        id: `element:${id}`,
        kind: 'action',
        check: null,
        action: { kind: 'replace', circuit, target: id, object },
        where: target.name,
        mode: null,
        circuit,
        minutes: 0,
        depth: pulls ? depthOf.plugPulled : depthOf.heated,
        question,
        name: sayStep('replace', object),
        at: [id],
      },
    ];
  });
}

/** Everything that a new one can be put in place of: a rail is no part. */
function replaceable(profile: Profile): string[] {
  const rails = new Set(profile.rails.map((r) => r.id));
  return elementIds(profile).filter((id) => !rails.has(id));
}
