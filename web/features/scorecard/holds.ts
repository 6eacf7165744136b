import type { Scorecard } from '@umbral/core';

/** Whether percentages can be trusted, by what was said on average and how often it was so. */
export type Holds = 'holds' | 'too-much' | 'too-little' | 'too-few';

/** Under so many calls nothing is said. */
const fewest = 10;

export const holdsWords: Record<Holds, string> = {
  holds: 'holds',
  'too-much': 'too high',
  'too-little': 'too low',
  'too-few': 'too few cases',
};

/**
 * Holds what was said of the first suspects against the interval of how often they were it.
 *
 * @returns `holds` where the mean of what was said lies in the 95 % interval
 */
export function percentagesHold({ first, said }: Pick<Scorecard, 'first' | 'said'>): Holds {
  const { of, low, high } = first.value;
  if (of < fewest || said === null) return 'too-few';
  return said > high ? 'too-much' : said < low ? 'too-little' : 'holds';
}
