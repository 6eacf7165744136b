import { isDue, patternNames, reviewedCard, unrecognised, type LessonRun, type PatternId } from '@umbral/core';
import { lessonPatterns } from '../../analysis/engine.ts';
import * as yup from 'yup';
import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import type { Person } from '../../record/actor.ts';
import type { RunRow } from '../../record/rows.ts';
import { saveReview, loadReviews } from './calls.ts';
import { feedWords, picture, type LessonPicture } from './course.ts';

/** A run to be named in a few seconds, with all that a display shows of it. */
export interface Card {
  pattern: PatternId;
  picture: LessonPicture;
  options: { id: PatternId; name: string }[];
  /** From which job of the shop, or from the twin. */
  from: string;
}

const optionCount = 4;

/**
 * Runs to be named: those that are due first, then those never asked. They are runs of the shop's own confirmed cases;
 * where the shop has none of a pattern, a run of the twin.
 *
 * @param most how many at once
 * @param random 0 to 1
 */
export async function loadCards(q: Queries, personId: number, most: number, random: () => number): Promise<Card[]> {
  const { rows } = await q.raw<{ rows: OwnRun[] }>(
    `SELECT r.pattern, r.run_key, c.job_id FROM library_runs r JOIN library_cases c ON c.id = r.case_id
     JOIN jobs j ON j.id = c.job_id JOIN runs u ON u.job_id = c.job_id AND u.run_key = r.run_key
     WHERE r.pattern IS NOT NULL AND cardinality(r.outline) > 8 AND j.deleted_at IS NULL AND u.deleted_at IS NULL
     AND u.quantity = 'current' ORDER BY r.id DESC LIMIT 4000`,
  );
  const own = new Map<PatternId, OwnRun[]>();
  for (const row of rows) own.set(row.pattern, [...(own.get(row.pattern) ?? []), row]);
  const made = new Map((await lessonPatterns()).map(({ pattern, run }) => [pattern, run]));
  const patterns = [...new Set([...own.keys(), ...made.keys()])].filter((id) => id !== unrecognised);
  const reviews = await loadReviews(q, personId, 'silhouette');
  const now = new Date();
  const order = patterns
    .map((id) => {
      const review = reviews.find((r) => r.key === id);
      return { id, rank: !review ? 1 : isDue(review, now) ? 0 : 2, at: random() };
    })
    .sort((a, b) => a.rank - b.rank || a.at - b.at);
  const cards = order.slice(0, most).map(async ({ id }): Promise<Card> => {
    const list = own.get(id) ?? [];
    const chosen = list[Math.floor(random() * list.length)];
    const others = patterns.filter((p) => p !== id).sort(() => random() - 0.5);
    const options = [id, ...others.slice(0, optionCount - 1)].sort(() => random() - 0.5);
    const lesson = made.get(id);
    return {
      pattern: id,
      picture: chosen ? await pictureOf(q, chosen) : picture(lesson as LessonRun, []),
      options: options.map((p) => ({ id: p, name: patternNames[p] })),
      from: chosen ? `job ${chosen.job_id}` : 'a simulated device',
    };
  });
  return Promise.all(cards);
}

/** A run of a confirmed case of this shop. */
interface OwnRun {
  pattern: PatternId;
  job_id: number;
  run_key: string;
}

async function pictureOf(q: Queries, { job_id, run_key }: OwnRun): Promise<LessonPicture> {
  const row = await q<RunRow>('runs').where({ job_id, run_key }).whereNull('deleted_at').first();
  if (!row) throw missing(`Run ${run_key}`);
  const { t0, t1, mean, high, volts } = row.preview;
  const promptAt = row.shape.markers.find((m) => m.event === 'prompt')?.t ?? null;
  return { t0, t1, mean, high, volts, promptAt, points: [], feed: feedWords[row.feed] };
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
