import { circuitIds, circuitNames, type Action, type Case } from '../case/index.ts';
import effects from './data/effects.json';
import policy from './data/policy.json';
import { readsTheSame, sayLevel } from './compare.ts';
import { evidence, type EvidenceItem, type PerCircuit } from './model.ts';
import { isHealthy, lowerFirst, type SeenRun } from './runs.ts';

type Result = 'recovers' | 'changed' | 'same';

const done: Record<Action['kind'], string> = {
  remove: 'removed',
  replace: 'replaced',
  clean: 'cleaned',
  reflow: 'reflowed',
  disconnect: 'disconnected',
  'reload-firmware': 'reloaded',
  burn: 'burnt open',
  other: 'worked on',
};

function likelihoodOf(action: Action, result: Result): PerCircuit {
  const { cures, spoils } = effects.kinds[action.kind];
  const fed =
    action.kind === 'remove' || action.kind === 'disconnect'
      ? ((effects.fedThrough as Record<string, string[]>)[action.circuit ?? ''] ?? [])
      : [];
  return circuitIds.map((id) => {
    if (id === 'unmodelled') return 0.3;
    const cured = id === action.circuit ? cures : fed.includes(id) ? 0.45 : spoils;
    if (result === 'recovers') return cured;
    if (result === 'changed') return id === action.circuit ? 0.35 : fed.includes(id) ? 0.3 : 0.14;
    return Math.max(0.08, 1 - cured - 0.02);
  });
}

/** A donor part, a reworked joint or another suffix makes the result weaker. */
function isConfounded(action: Action): boolean {
  return (
    action.kind === 'reflow' || /\b(donor|used|reworked?|variant|suffix|salvaged?|second[- ]hand)\b/i.test(action.note)
  );
}

/** The run before an action: the one it names, else the last run of the same feed that came before the run after it. */
function pairOf(action: Action, seen: SeenRun[]): { before: SeenRun; after: SeenRun } | null {
  const after = seen.find((s) => s.run.after === action.id);
  if (!after) return null;
  const named = action.runBefore === null ? undefined : seen.find((s) => s.run.id === action.runBefore);
  const earlier = seen
    .slice(0, seen.indexOf(after))
    .filter((s) => s.run.feed === after.run.feed && s.run.after !== action.id);
  const before = named ?? earlier.at(-1);
  return before ? { before, after } : null;
}

/** Evidence from interventions with a run before and a run after, and what is missing for the others. */
export function actionEvidence(value: Case, seen: SeenRun[]): { items: EvidenceItem[]; warnings: string[] } {
  const items: EvidenceItem[] = [];
  const warnings: string[] = [];
  let withoutMovement = 0;
  for (const action of value.actions) {
    const what = action.target || (action.circuit ? lowerFirst(circuitNames[action.circuit]) : 'a part');
    const pair = pairOf(action, seen);
    if (!pair) {
      warnings.push(
        `${what} was ${done[action.kind]} without a run before and a run after; record one now so that it can count.`,
      );
      continue;
    }
    const { before, after } = pair;
    if (isHealthy(before)) continue;
    const result: Result = isHealthy(after) ? 'recovers' : readsTheSame(before, after) ? 'same' : 'changed';
    if (result === 'same') withoutMovement++;
    if (action.circuit === null) continue;
    const confounded = isConfounded(action);
    const said = { recovers: 'it recovers', changed: 'the reading moves but is not normal', same: 'nothing moves' }[
      result
    ];
    const sentence = `${what} ${done[action.kind]}: ${said} (${sayLevel(before)}, then ${sayLevel(after, before)})${confounded ? '; a weaker test, since the part or joint is itself in doubt' : ''}`;
    items.push(
      evidence(`action:${action.id}`, sentence, likelihoodOf(action, result), confounded ? policy.confounded : 1),
    );
  }
  if (withoutMovement >= 3) {
    warnings.push(
      `${withoutMovement} changes moved nothing: the hypothesis is wrong rather than the parts. Measure before changing more.`,
    );
  }
  return { items, warnings };
}
