import { circuitIds, circuitNames, type Action, type Case, type Run } from '../case/index.ts';
import effects from './data/effects.json';
import policy from './data/policy.json';
import { movedFrom, sayLevel } from './compare.ts';
import { evidence, type EvidenceItem, type PerCircuit } from './model.ts';
import type { Moved } from './predict-checks.ts';
import { isHealthy, lowerFirst, type SeenRun } from './runs.ts';

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

function likelihoodOf(action: Action, moved: Moved): PerCircuit {
  const { cures, spoils } = effects.kinds[action.kind];
  const fed =
    action.kind === 'remove' || action.kind === 'disconnect'
      ? ((effects.fedThrough as Record<string, string[]>)[action.circuit ?? ''] ?? [])
      : [];
  return circuitIds.map((id) => {
    if (id === 'unmodelled') return 0.3;
    const cured = id === action.circuit ? cures : fed.includes(id) ? 0.45 : spoils;
    if (moved === 'recovers') return cured;
    if (moved !== 'same') return id === action.circuit ? 0.35 : fed.includes(id) ? 0.3 : 0.14;
    return Math.max(0.08, 1 - cured - 0.02);
  });
}

/** A donor part, a reworked joint or another suffix makes the result weaker. */
function isConfounded(action: Action): boolean {
  const noted = action.extra?.confounders;
  return (
    action.kind === 'reflow' ||
    (Array.isArray(noted) && noted.length > 0) ||
    /\b(donor|used|reworked?|variant|suffix|salvaged?|second[- ]hand)\b/i.test(action.note)
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

/**
 * Evidence from interventions with a run before and a run after, and what is missing for the others.
 *
 * @param byTwin likelihood by hypothesis where the twin knows what was worked on
 */
export function actionEvidence(
  value: Case,
  seen: SeenRun[],
  byTwin: (action: Action, run: Run, moved: Moved, usual: PerCircuit) => number[] | null,
): { items: EvidenceItem[]; warnings: string[] } {
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
    const moved = movedFrom(before, after);
    if (moved === 'same') withoutMovement++;
    const usual = likelihoodOf(action, moved);
    const told = byTwin(action, before.run, moved, usual);
    if (action.circuit === null && told === null) continue;
    const confounded = isConfounded(action);
    const said = {
      recovers: 'it recovers',
      falls: 'the reading falls but is not normal',
      rises: 'the reading rises but is not normal',
      same: 'nothing moves',
    }[moved];
    const weight = confounded ? policy.confounded : 1;
    const sentence = `${what} ${done[action.kind]}: ${said} (${sayLevel(before)}, then ${sayLevel(after, before)})${confounded ? '; a weaker test, since the part or joint is itself in doubt' : ''}`;
    const item = evidence(`action:${action.id}`, sentence, usual, weight);
    items.push(told ? { ...item, fine: told.map((x) => weight * Math.log(Math.max(x, 1e-6))) } : item);
  }
  if (withoutMovement >= 3) {
    warnings.push(
      `${withoutMovement} changes moved nothing: the hypothesis is wrong rather than the parts. Measure before changing more.`,
    );
  }
  return { items, warnings };
}
