import type { CircuitId } from '../catalogue/index.ts';
import { placeName } from '../case/index.ts';
import { elsewhereShare, placeAt } from '../hypotheses/index.ts';
import type { Space } from '../prediction/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import type { History } from './kind.ts';
import rules from './readings.json';
import type { Words } from './standing.ts';

/** What of a history a question about a reading takes: the hypotheses, and what the runs say of them. */
export type Asked = Pick<History, 'value' | 'space' | 'seen' | 'over' | 'epochOf' | 'assemblies'>;

/**
 * Index of the rail in the model's own profile; -1 where it has none of that name.
 *
 * @param where as somebody typed it
 */
export function railIndexOf(space: Space, where: string): number {
  if (space.closeness !== 'own') return -1;
  const found = elementNamed(space.twin.board.profile, where, atProbe);
  return found?.element === 'rail' ? found.index : -1;
}

export function spreadOverHypotheses(
  hypotheses: number,
  words: readonly string[],
  of: (h: number) => Words,
): Record<string, number[]> {
  const lists = Object.fromEntries(words.map((word) => [word, new Array<number>(hypotheses).fill(0)]));
  for (let h = 0; h < hypotheses; h++) {
    const predicted = of(h);
    const sum = words.reduce((total, word) => total + (predicted[word] ?? 0), 0);
    for (const word of words) lists[word][h] = sum > 0 ? (predicted[word] ?? 0) / sum : 1 / words.length;
  }
  return lists;
}

/** The two sources of what is expected, joined at one place: the twin with its trust, the table with the rest. */
export const joined = (trust: number, twin: Words | null, table: Words): Words => {
  if (!twin) return table;
  return Object.fromEntries(
    Object.keys(table).map((word) => [word, trust * (twin[word] ?? 0) + (1 - trust) * table[word]]),
  );
};

export function placeKey(space: Space, point: { circuit: CircuitId | null; where: string }): string {
  return placeAt(space.places, point.circuit, point.where)?.key ?? placeName(point.where);
}

/** Share of a circuit that sits at one point of it. */
export function shareAt(space: Space, circuit: CircuitId): number {
  const named = space.places.filter((p) => p.circuit === circuit).length || 1;
  return (1 - elsewhereShare(circuit, named)) / named;
}

export const kinds = rules.kind as Partial<Record<CircuitId, string>>;
export const ownGround = (circuit: CircuitId): Words =>
  (rules.ownGround as Record<string, Words>)[kinds[circuit] ?? 'rail'];

export const mixed = (share: number, a: Words, b: Words): Words =>
  Object.fromEntries(Object.keys(b).map((word) => [word, share * (a[word] ?? 0) + (1 - share) * b[word]]));
