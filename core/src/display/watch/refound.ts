import type { Point, Quad } from '../image.ts';
import settings from './refound.json';

/**
 * Where framed numbers stand now that the camera was moved: the shift and scale under which most of them lie on numbers that were
 * found. Numbers stand to the right, so their right edges are compared.
 *
 * @param corners as they were framed; shares of the picture
 * @param found corners of numbers in the picture as it is now
 * @returns the corners moved; null where fewer than half of them were found again
 */
export function refoundIn(corners: readonly Quad[], found: readonly Quad[]): Quad[] | null {
  let best: { corners: Quad[]; met: number; off: number } | null = null;
  for (const was of corners)
    for (const is of found) {
      const scale = heightOf(is) / heightOf(was);
      const [from, to] = [anchorOf(was), anchorOf(is)];
      const isNear = Math.hypot(to[0] - from[0], to[1] - from[1]) <= settings.maxShift;
      if (!isNear || scale < settings.scale[0] || scale > settings.scale[1]) continue;
      const move = ([x, y]: Point): Point => [to[0] + (x - from[0]) * scale, to[1] + (y - from[1]) * scale];
      const now = corners.map((quad) => quad.map(move) as unknown as Quad);
      const offs = now.map((quad) => Math.min(...found.map((f) => distance(quad, f))));
      const met = offs.filter((off) => off <= settings.met).length;
      const off = offs.reduce((a, b) => a + b, 0);
      if (!best || met > best.met || (met === best.met && off < best.off)) best = { corners: now, met, off };
    }
  return best && 2 * best.met >= corners.length ? best.corners : null;
}

/** The middle of the right edge. */
const anchorOf = ([, b, c]: Quad): Point => [(b[0] + c[0]) / 2, (b[1] + c[1]) / 2];

const heightOf = ([a, b, c, d]: Quad): number =>
  (Math.hypot(d[0] - a[0], d[1] - a[1]) + Math.hypot(c[0] - b[0], c[1] - b[1])) / 2;

/** How far two numbers stand apart, in their height. */
function distance(a: Quad, b: Quad): number {
  const [p, q] = [anchorOf(a), anchorOf(b)];
  return Math.hypot(p[0] - q[0], p[1] - q[1]) / heightOf(a);
}
