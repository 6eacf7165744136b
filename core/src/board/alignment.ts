import { invertedProjection, isConvex, projectedPoint, projectionOf, type Point, type Quad } from '../display/index.ts';
import policy from './policy.json';

/**
 * The same place in a picture and on the side of the board. Lengths are in widths: of the picture, and of the board; x from the left,
 * y from the top.
 */
export interface Pair {
  from: Point;
  to: Point;
}

/** Takes places of a picture to places of the board, as a matrix of 3 x 3, row by row. */
export type Alignment = readonly number[];

/**
 * How a picture lies on the board, from places that are the same in both: two give shift, turn and size, three the slant as well, four
 * the perspective of a camera that was held at an angle.
 *
 * @param pairs two to four, in any order
 * @throws {RangeError} in a sentence for people: too few, two at one place, on one line, crossed, or mirrored
 * @example
 * // Half as large, and a tenth to the right.
 * const pairs = [{ from: [0, 0], to: [0.1, 0] }, { from: [1, 0], to: [0.6, 0] }];
 * alignmentThrough(pairs) // [0.5, -0, 0.1, 0, 0.5, 0, 0, 0, 1]
 */
export function alignmentThrough(pairs: readonly Pair[]): Alignment {
  const most = policy.mostPairs;
  if (pairs.length < 2 || pairs.length > most)
    throw new RangeError(`Points: expected 2 to ${most} shared points, got ${pairs.length}.`);
  for (const [k, a] of pairs.entries())
    for (const [n, b] of pairs.entries())
      if (n < k && (near(a.from, b.from) || near(a.to, b.to)))
        throw new RangeError(`Points: ${n + 1} and ${k + 1} are at the same place. Choose points far apart.`);
  return pairs.length === 2 ? similarity(pairs) : pairs.length === 3 ? slanted(pairs) : inPerspective(pairs);
}

const distance = ([ax, ay]: Point, [bx, by]: Point): number => Math.hypot(ax - bx, ay - by);
const near = (a: Point, b: Point): boolean => distance(a, b) < policy.apart;

function similarity([p, q]: readonly Pair[]): Alignment {
  const [dx, dy] = [q.from[0] - p.from[0], q.from[1] - p.from[1]];
  const [ex, ey] = [q.to[0] - p.to[0], q.to[1] - p.to[1]];
  const length = dx * dx + dy * dy;
  const [a, b] = [(dx * ex + dy * ey) / length, (dx * ey - dy * ex) / length];
  return [a, -b, p.to[0] - a * p.from[0] + b * p.from[1], b, a, p.to[1] - b * p.from[0] - a * p.from[1], 0, 0, 1];
}

/** The parallelogram of three points, as a matrix from the unit square. */
function parallelogram([o, x, y]: readonly Point[]): Alignment {
  return [x[0] - o[0], y[0] - o[0], o[0], x[1] - o[1], y[1] - o[1], o[1], 0, 0, 1];
}

function slanted(pairs: readonly Pair[]): Alignment {
  const [from, to] = [parallelogram(pairs.map((p) => p.from)), parallelogram(pairs.map((p) => p.to))];
  const [areaFrom, areaTo] = [areaOf(from), areaOf(to)];
  if (Math.min(Math.abs(areaFrom), Math.abs(areaTo)) < policy.leastArea)
    throw new RangeError('Points: the three points are on one line. Choose one off that line.');
  if (areaFrom * areaTo < 0) throw new RangeError(mirrored);
  return times(to, invertedProjection(from));
}

const areaOf = (m: Alignment): number => m[0] * m[4] - m[1] * m[3];

const mirrored =
  'Points: the picture is mirrored. It may show the other side of the board, or two points may be swapped.';

function inPerspective(pairs: readonly Pair[]): Alignment {
  const middle = (of: 'from' | 'to'): Point => [
    pairs.reduce((sum, p) => sum + p[of][0], 0) / pairs.length,
    pairs.reduce((sum, p) => sum + p[of][1], 0) / pairs.length,
  ];
  const [cx, cy] = middle('to');
  const turned = [...pairs].sort(
    (a, b) => Math.atan2(a.to[1] - cy, a.to[0] - cx) - Math.atan2(b.to[1] - cy, b.to[0] - cx),
  );
  const quadOf = (of: 'from' | 'to') => turned.map((p) => p[of]) as unknown as Quad;
  const [from, to] = [quadOf('from'), quadOf('to')];
  if (!isConvex(to) || !isConvex(from))
    throw new RangeError('Points: two points are swapped, or one is inside the other three.');
  if (windingOf(from) * windingOf(to) < 0) throw new RangeError(mirrored);
  if (Math.min(Math.abs(windingOf(from)), Math.abs(windingOf(to))) < policy.leastArea)
    throw new RangeError('Points: the four points are nearly on one line. Choose points near the corners.');
  return times(projectionOf(to), invertedProjection(projectionOf(from)));
}

/** Twice the area that corners enclose, with the sign of their turning. */
const windingOf = (quad: Quad): number =>
  quad.reduce((sum, [x, y], k) => sum + x * quad[(k + 1) % 4][1] - quad[(k + 1) % 4][0] * y, 0);

function times(a: Alignment, b: Alignment): Alignment {
  const out: number[] = [];
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++) out.push(a[3 * r] * b[c] + a[3 * r + 1] * b[3 + c] + a[3 * r + 2] * b[6 + c]);
  return out;
}

/** Where a place of a picture lies on the board. */
export const onBoard = (alignment: Alignment, place: Point): Point => projectedPoint(alignment, place);

/** The way back: where a place of the board is in the picture. */
export const inPicture = (alignment: Alignment, place: Point): Point =>
  projectedPoint(invertedProjection(alignment), place);

/**
 * Height of a board in widths, from its corners in a picture: the mean of opposite sides.
 *
 * @param corners top left, top right, bottom right, bottom left, in widths of the picture
 * @throws {RangeError} in a sentence for corners that are not those of a board
 */
export function heightOf(corners: Quad): number {
  if (!isConvex(corners)) throw new RangeError('Corners: two corners are swapped, or one is inside the other three.');
  if (windingOf(corners) < 0) throw new RangeError('Corners: set them clockwise, starting at the top left.');
  const [a, b, c, d] = corners;
  const height = (distance(a, d) + distance(b, c)) / (distance(a, b) + distance(d, c));
  if (height < 1 / policy.longest || height > policy.longest)
    throw new RangeError(
      `Corners: this board would be more than ${policy.longest} times as long as it is wide. Check the corners.`,
    );
  return height;
}

/**
 * An alignment as the browser draws it.
 *
 * @param picturePx width of the picture as it is drawn, pixels
 * @param boardPx width of the board as it is drawn, pixels
 * @returns a CSS transform for an element whose origin is its upper left corner
 */
export function cssTransform([a, b, c, d, e, f, g, h, i]: Alignment, picturePx: number, boardPx: number): string {
  const columns = [
    [(a * boardPx) / picturePx, (d * boardPx) / picturePx, 0, g / picturePx],
    [(b * boardPx) / picturePx, (e * boardPx) / picturePx, 0, h / picturePx],
    [0, 0, 1, 0],
    [c * boardPx, f * boardPx, 0, i],
  ];
  return `matrix3d(${columns.flat().join(', ')})`;
}
