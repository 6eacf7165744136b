import { isDue, patternNames, reviewedCard, unrecognised, type PatternId } from '@umbral/core';
import { lessonOutlines } from '../analysis/engine.ts';
import * as yup from 'yup';
import { transaction, type Queries } from '../platform/db.ts';
import { ExpectedError } from '../platform/errors.ts';
import type { Person } from '../people/actor.ts';
import { saveReview, loadReviews } from './calls.ts';

/** A silhouette to be named in three seconds. */
export interface Card {
  pattern: PatternId;
  /** Amperes in even stretches. */
  outline: number[];
  options: { id: PatternId; name: string }[];
  /** From which job of the shop, or from the twin. */
  from: string;
}

const optionCount = 4;

/**
 * Silhouettes to be named: those that are due first, then those never asked. They are runs of the shop's own confirmed cases;
 * where the shop has none of a pattern, a run of the twin.
 *
 * @param most how many at once
 * @param random 0 to 1
 */
export async function loadCards(q: Queries, personId: number, most: number, random: () => number): Promise<Card[]> {
  const { rows } = await q.raw<{ rows: { pattern: PatternId; outline: number[]; job_id: number | null }[] }>(
    `SELECT r.pattern, r.outline, c.job_id FROM library_runs r JOIN library_cases c ON c.id = r.case_id
     LEFT JOIN jobs j ON j.id = c.job_id
     WHERE r.pattern IS NOT NULL AND r.outline IS NOT NULL AND cardinality(r.outline) > 8 AND j.deleted_at IS NULL
     ORDER BY r.id DESC LIMIT 4000`,
  );
  const own = new Map<PatternId, typeof rows>();
  for (const row of rows) own.set(row.pattern, [...(own.get(row.pattern) ?? []), row]);
  const made = new Map((await lessonOutlines()).map(({ pattern, outline }) => [pattern, outline]));
  const patterns = [...new Set([...own.keys(), ...made.keys()])].filter((id) => id !== unrecognised);
  const reviews = await loadReviews(q, personId, 'silhouette');
  const now = new Date();
  const order = patterns
    .map((id) => {
      const review = reviews.find((r) => r.key === id);
      return { id, rank: !review ? 1 : isDue(review, now) ? 0 : 2, at: random() };
    })
    .sort((a, b) => a.rank - b.rank || a.at - b.at);
  return order.slice(0, most).map(({ id }) => {
    const list = own.get(id) ?? [];
    const chosen = list[Math.floor(random() * list.length)];
    const others = patterns.filter((p) => p !== id).sort(() => random() - 0.5);
    const options = [id, ...others.slice(0, optionCount - 1)].sort(() => random() - 0.5);
    return {
      pattern: id,
      outline: chosen ? chosen.outline : (made.get(id) ?? []),
      options: options.map((p) => ({ id: p, name: patternNames[p] })),
      from: chosen ? (chosen.job_id === null ? 'another shop’s case' : `job ${chosen.job_id}`) : 'a simulated device',
    };
  });
}

export const cardInput = yup.object({
  pattern: yup.string().max(60).required(),
  said: yup.string().max(60).nullable().default(null),
});

/** Keeps what somebody called a silhouette; nothing said in time counts as not known. */
export async function answerCard(input: yup.InferType<typeof cardInput>, person: Person): Promise<void> {
  const { pattern, said } = input;
  if (!Object.hasOwn(patternNames, pattern)) throw new ExpectedError('input', `Pattern: "${pattern}" is unknown.`);
  await transaction(async (q) => {
    const before = (await loadReviews(q, person.id, 'silhouette')).find((r) => r.key === pattern) ?? null;
    await saveReview(q, person.id, 'silhouette', reviewedCard(before, pattern, said === pattern, new Date()));
  });
}
