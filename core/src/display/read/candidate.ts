import { characters, classify, type Network } from '../classify/network.ts';
import type { GrayImage, Quad } from '../image.ts';
import { cellOf } from './characters.ts';
import { fieldCharacters, type Unread } from './field.ts';
import settings from './candidate.json';

/** A number as one picture of a video shows it. */
export interface Candidate {
  text: string;
  value: number;
  /** Digits after the point; 0 where there is none. */
  decimals: number;
  /** Probability that every character and the place of the point are right. */
  p: number;
  isLightOnDark: boolean;
}

/**
 * Reads a field of one picture.
 *
 * @param quad corners of the field in the picture
 * @param decimals digits behind the point, where somebody has said so; then it is only watched that the point is not elsewhere
 * @returns the number, or why there is none
 */
export function readField(
  net: Network,
  picture: GrayImage,
  quad: Quad,
  decimals: number | null = null,
): Candidate | Unread {
  const row = fieldCharacters(picture, quad);
  if (typeof row === 'string') return row;
  const seen = row.boxes.map((box) => classify(net, cellOf(row, box)));
  const best = seen.map(({ p }) => p.indexOf(Math.max(...p)));
  const places = pointPlaces(seen.map((s) => s.point));
  const told = decimals === null ? places.indexOf(Math.max(...places)) : decimals;
  // Fewer digits than were said to follow it.
  if (told >= places.length) return 'point-elsewhere';
  if (decimals !== null && places[told] < settings.pointStillFrom) return 'point-elsewhere';
  const chars = best.map((k) => characters[k]);
  const text = told === 0 ? chars.join('') : `${chars.slice(0, -told).join('')}.${chars.slice(-told).join('')}`;
  // Digits, one point at most, and a minus only before them.
  if (!/^-?\d+(\.\d+)?$/.test(text)) return 'no-characters';
  const ofChars = seen.reduce((product, { p }, k) => product * p[best[k]], 1);
  const p = decimals === null ? ofChars * places[told] : ofChars;
  return { text, value: Number(text), decimals: told, p, isLightOnDark: row.isLightOnDark };
}

/**
 * Probability of every place of the one point of a number.
 *
 * @param points probability of a point behind every character
 * @returns by the digits behind it: none first; sums to 1
 */
export function pointPlaces(points: readonly number[]): number[] {
  const odds = points.map((p) => Math.min(settings.mostOdds, p / Math.max(1 - p, 1e-12)));
  // A number ends without a point: what seems to be one there is a unit or a rim.
  const weights = [1, ...odds.slice(0, -1).reverse()];
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((w) => w / sum);
}
