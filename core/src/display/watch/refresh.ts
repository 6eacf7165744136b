import { quantileSorted } from 'simple-statistics';
import settings from './refresh.json';

/**
 * How often a display changes, found from the instants at which what it shows changed: the longest period that the spaces between
 * them are whole multiples of.
 *
 * @param changes instants in order, seconds
 * @returns seconds from one change to the next; null where there are too few, or they follow no period
 * @see K. Mardia, P. Jupp, Directional Statistics, 2000: the mean resultant length
 */
export function refreshPeriod(changes: readonly number[]): number | null {
  const spaces = changes.slice(1).map((t, k) => t - changes[k]);
  if (spaces.length < settings.minChanges) return null;
  // A period far above the spaces would fit them all: none of them is shorter than the display's own, but for a picture's time.
  const least = quantileSorted(
    spaces.toSorted((a, b) => a - b),
    settings.shortest,
  );
  const most = Math.min(settings.periodS[1], settings.maxOfShortest * least);
  const fits: { period: number; fit: number }[] = [];
  for (let period = settings.periodS[0]; period <= most; period *= settings.step)
    fits.push({ period, fit: resultant(spaces, period) });
  if (fits.length === 0) return null;
  const best = Math.max(...fits.map((f) => f.fit));
  if (best < settings.minFit) return null;
  // Half a period and a third fit as well: the longest that does is meant.
  const longest = fits.filter((f) => f.fit >= settings.nearBest * best).at(-1);
  return longest?.period ?? null;
}

/** How well spaces are whole multiples of a period: 1 for exactly, near 0 for by chance, below it for by halves. */
function resultant(spaces: readonly number[], period: number): number {
  return spaces.reduce((sum, d) => sum + Math.cos((2 * Math.PI * d) / period), 0) / spaces.length;
}
