import { createEmptyCard, fsrs, Rating, type Card } from 'ts-fsrs';
import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import settings from './review.json';

/** Something that is asked again, later and later while it is known: two circuits that were mixed up, or a silhouette. */
export interface Review {
  key: string;
  /** As the scheduler keeps it. */
  card: Card;
  /** When the person last had it right; null for never. */
  lastRight: Date | null;
  wrong: number;
}

/** Free Spaced Repetition Scheduler, without chance, so that the same answers always bring the same days. */
const scheduler = fsrs({ request_retention: settings.retention, enable_fuzz: false });

/** Two circuits as one key, whichever was taken for the other. */
export function pairKey(a: CircuitId, b: CircuitId): string {
  return [a, b].sort((x, y) => circuitIds.indexOf(x) - circuitIds.indexOf(y)).join(' | ');
}

/** The circuits of a pair. */
export function circuitsOf(key: string): CircuitId[] {
  return key.split(' | ').filter((id): id is CircuitId => (circuitIds as string[]).includes(id));
}

/**
 * What is known of something after it was asked once more.
 *
 * @param before null where it was never asked
 * @see Ye, Su and Cao, "A Stochastic Shortest Path Algorithm for Optimizing Spaced Repetition Scheduling", KDD 2022
 */
export function reviewedCard(before: Review | null, key: string, isRight: boolean, now: Date): Review {
  const card: Card = before ? before.card : createEmptyCard<Card>(now);
  const next = scheduler.next(revived(card), now, isRight ? Rating.Good : Rating.Again).card;
  return {
    key,
    card: next,
    lastRight: isRight ? now : (before?.lastRight ?? null),
    wrong: (before?.wrong ?? 0) + (isRight ? 0 : 1),
  };
}

/** A card whose times came out of a record as text. */
function revived(card: Card): Card {
  const last = card.last_review;
  return { ...card, due: new Date(card.due), ...(last ? { last_review: new Date(last) } : {}) };
}

/** Whether something is to be asked now. */
export function isDue(review: Review, now: Date): boolean {
  return new Date(review.card.due).getTime() <= now.getTime();
}

/**
 * What one call says about the pairs that a person mixes up: the two that were taken for each other, and of the pairs known
 * before, those that the truth belongs to.
 *
 * @param reviews of the pairs, as they were before
 * @param said the circuit that the call thought likeliest
 * @returns the pairs that changed
 */
export function pairsAfter(reviews: readonly Review[], truth: CircuitId, said: CircuitId, now: Date): Review[] {
  if (said !== truth) {
    const key = pairKey(truth, said);
    return [reviewedCard(reviews.find((r) => r.key === key) ?? null, key, false, now)];
  }
  return reviews.filter((r) => circuitsOf(r.key).includes(truth)).map((r) => reviewedCard(r, r.key, true, now));
}
