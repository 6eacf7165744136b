import { checkTypes, type CheckId, type ComplaintKind } from '../catalogue/index.ts';
import { predictedOutcome, twinTrust, type Space } from '../prediction/index.ts';
import tables from './outcomes.json';
import rules from './checks.json';
import type { Question } from './question.ts';

type Words = Readonly<Record<string, number>>;

/**
 * What every hypothesis expects of a check: what the twin of the model's own profile shows, as far as it is trusted, and
 * otherwise how often such outcomes are met in practice. Null for a check whose answer is no word.
 *
 * @param complaint what was complained of: a drain is complained of by people whose device runs, so that it gets as far as a good one
 */
export function checkQuestion(space: Space, check: CheckId, complaint: ComplaintKind | null = null): Question | null {
  const table = (tables as Record<string, Record<string, Words>>)[check];
  const { outcomes: words, wellWith = [], isRepeat } = checkTypes[check];
  if (!table || words.length === 0) return null;
  const running = complaint !== null && wellWith.includes(complaint) && table.none ? runsAnyway(complaint) : 0;
  const trust = twinTrust(space);
  const rare = rules.rareOutcome / words.length;
  const lists = Object.fromEntries(words.map((word) => [word, new Array<number>(space.hypotheses.length).fill(0)]));
  space.hypotheses.forEach(({ circuit }, h) => {
    const row = table[circuit] ?? table.default;
    const usual = running > 0 ? mix(table.none, row, running) : row;
    const sum = words.reduce((total, word) => total + (usual[word] ?? 0), 0);
    const predicted = space.closeness === 'own' ? predictedOutcome(space.twin, check, h) : null;
    for (const word of words) {
      const p = (1 - rules.rareOutcome) * ((usual[word] ?? 0) / sum) + rare;
      lists[word][h] =
        predicted === null || !words.includes(predicted) ? p : (1 - trust) * p + (predicted === word ? trust : 0);
    }
  });
  return { key: `check:${check}`, outcomes: lists, repeats: rules.repeats, lacking: isRepeat ? 'same' : undefined };
}

/** How surely a device runs that is complained of so, 0 to 1: a drain is complained of by people whose device runs. */
export const runsAnyway = (complaint: ComplaintKind | null): number =>
  (rules.wellWith as Partial<Record<ComplaintKind, number>>)[complaint ?? 'other'] ?? 0;

const mix = (a: Words, b: Words, share: number): Words =>
  Object.fromEntries(
    Object.keys({ ...a, ...b }).map((word) => [word, share * (a[word] ?? 0) + (1 - share) * (b[word] ?? 0)]),
  );
