import { checkIds, checkTypes, namedChecks, unrecognised, type CheckId } from '../catalogue/index.ts';
import type { Run } from '../case/index.ts';
import { topPattern } from '../shape/index.ts';
import { checkQuestion } from './check-table.ts';
import rules from './checks.json';
import type { Entry, History, ObservationKind } from './kind.ts';
import { keyWithout } from './comparison-key.ts';
import { isHealthy, readsTheSame, sayLevel, sayRunSetup, type SeenRun } from './observed-run.ts';
import { otherPortQuestion, unpluggedEntries, unpluggedPairs } from './unplugged-runs.ts';

/** Checks that ask what two runs say that differ in one part of the setup. */
const comparisons = checkIds.flatMap((check) => {
  const { compares } = checkTypes[check];
  return compares
    ? [{ check, ...compares, isTried: (run: Run) => compares.tried.includes(run.setup[compares.part]) }]
    : [];
});
type Comparison = (typeof comparisons)[number];

const pairWords = (plain: SeenRun, tried: SeenRun): string => `${sayLevel(plain)}, then ${sayLevel(tried, plain)}`;

/** What two runs of one state of the device that differ in one thing say: the answer to the check that asks for it. */
export const comparisonKind: ObservationKind = {
  id: 'comparison',
  entries: (history) => {
    // The same worlds explain both runs where each of them can be started: the difference is no second witness.
    if (history.space.closeness === 'own') return [];
    const usable = recognised(history);
    return [
      ...ports(history, usable),
      ...comparisons.flatMap((c) => pairs(history, usable, c)),
      ...unpluggedEntries(history, usable),
    ];
  },
  candidates: () => [],
};

function answered(
  history: History,
  check: CheckId,
  word: string,
  epoch: number,
  source: string,
  sentence: string,
): Entry[] {
  const question = checkQuestion(history.space, check, history.value.complaintKind, rules.rareMeasured);
  if (!question) return [];
  return [{ kind: 'comparison', source, sentence, epoch, answer: { question, word, hints: [] }, likelihood: null }];
}

/** Runs of one state of the device that differ in the port alone, one a port. */
function portGroups(history: History, usable: readonly SeenRun[]): SeenRun[][] {
  const groups = new Map<string, Map<number, SeenRun>>();
  for (const one of usable.filter((s) => s.run.feed === 'usb-c')) {
    const key = `${history.epochOf(one.run.after)} ${keyWithout(one.run, ['port', 'flipped'])}`;
    groups.set(key, (groups.get(key) ?? new Map<number, SeenRun>()).set(one.run.setup.port ?? 1, one));
  }
  return [...groups.values()].map((byPort) => [...byPort.values()]).filter((runs) => runs.length > 1);
}

/** All ports of one setup together: identical readings clear them, and what works at one of them accuses the other. */
function ports(history: History, usable: readonly SeenRun[]): Entry[] {
  return portGroups(history, usable).flatMap((runs): Entry[] => {
    if (runs.every(isHealthy)) return [];
    const same = runs.every((r) => readsTheSame(r, runs[0]));
    const levels = runs.map((r) => `${sayRunSetup(r.run)} ${sayLevel(r)}`).join('; ');
    const epoch = history.epochOf(runs[0].run.after);
    const source = `ports:${runs.map((r) => r.run.id).join('+')}`;
    const sentence = `the ports read ${same ? 'the same' : 'differently'} (${levels})`;
    if (!runs.some(isHealthy))
      return answered(history, namedChecks.ports, same ? 'same' : 'different', epoch, source, sentence);
    const answer = { question: otherPortQuestion(history), word: 'recovers', hints: [] };
    return [{ kind: 'comparison', source, sentence, epoch, answer, likelihood: null }];
  });
}

interface Pair {
  plain: SeenRun;
  tried: SeenRun;
  later: SeenRun;
}

/** Runs of one state of the device that differ in one part of the setup alone. */
function pairsOf({ epochOf }: History, usable: readonly SeenRun[], { part, isTried }: Comparison): Pair[] {
  return usable.flatMap((later, k): Pair[] => {
    const earlier = usable.slice(0, k).findLast(
      (one) =>
        epochOf(one.run.after) === epochOf(later.run.after) &&
        isTried(one.run) !== isTried(later.run) &&
        // A run that works says so whether or not the press was marked in both.
        (one.shape.features.prompted === later.shape.features.prompted || isHealthy(one) !== isHealthy(later)) &&
        keyWithout(one.run, [part]) === keyWithout(later.run, [part]),
    );
    if (!earlier) return [];
    const [plain, tried] = isTried(later.run) ? [earlier, later] : [later, earlier];
    return isHealthy(plain) && isHealthy(tried) ? [] : [{ plain, tried, later }];
  });
}

const recognised = ({ seen }: History): SeenRun[] =>
  seen.filter((s) => topPattern(s.patterns) !== unrecognised && s.run.setup.assembly !== 'half');

/** Whether a run works where the run that differs from it in one part of the setup does not: it tells of that part. */
export function recoversBeside(history: History, seen: SeenRun): boolean {
  if (history.space.closeness === 'own' || !isHealthy(seen)) return false;
  const usable = recognised(history);
  return (
    comparisons.some((c) => pairsOf(history, usable, c).some(({ tried }) => tried === seen)) ||
    unpluggedPairs(history, usable).some(({ tried }) => tried === seen) ||
    portGroups(history, usable).some((runs) => runs.includes(seen) && !runs.every(isHealthy))
  );
}

/**
 * Whether a run was made with the customer's own charger and fails, where the same with a known-good one works: it tells of the
 * charger, and nothing of the device.
 */
export function failsByItsCharger(history: History, seen: SeenRun): boolean {
  if (history.space.closeness === 'own') return false;
  const charger = comparisons.find((c) => c.check === namedChecks.charger);
  return (
    charger !== undefined &&
    pairsOf(history, recognised(history), charger).some(({ plain, tried }) => plain === seen && isHealthy(tried))
  );
}

function pairs(history: History, usable: readonly SeenRun[], comparison: Comparison): Entry[] {
  const { check, says } = comparison;
  return pairsOf(history, usable, comparison).flatMap(({ plain, tried, later }) => {
    const same = readsTheSame(plain, tried);
    const recovers = isHealthy(tried);
    const [unmoved, cured, moved] = comparison.outcomes;
    const word = recovers ? cured : same ? unmoved : moved;
    return answered(
      history,
      check,
      word,
      history.epochOf(later.run.after),
      `pair:${plain.run.id}+${tried.run.id}`,
      `run ${tried.run.id} against ${plain.run.id}: ${says[recovers ? 'healthy' : same ? 'same' : 'different']} (${pairWords(plain, tried)})`,
    );
  });
}
