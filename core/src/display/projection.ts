import { blankImage, brightnessAt, type GrayImage, type Point, type Quad } from './image.ts';

/** A projection of the plane, as a matrix of 3 x 3, row by row. */
type Projection = readonly number[];

/**
 * The projection that takes the unit square to a quad: (0, 0) to its first corner, (1, 0) to its second.
 *
 * @throws {RangeError} where the corners lie on a line, or where its sides cross
 * @see P. Heckbert, Fundamentals of Texture Mapping and Image Warping, 1989, section 2.2.3
 * @example projectionOf([[0, 0], [2, 0], [2, 1], [0, 1]]) // [2, 0, 0, 0, 1, 0, 0, 0, 1]
 */
export function projectionOf(quad: Quad): Projection {
  if (!isConvex(quad))
    throw new RangeError('Corners: expected four corners in turn, none of which lies within the others.');
  const [[x0, y0], [x1, y1], [x2, y2], [x3, y3]] = quad;
  const [dx1, dx2, sx] = [x1 - x2, x3 - x2, x0 - x1 + x2 - x3];
  const [dy1, dy2, sy] = [y1 - y2, y3 - y2, y0 - y1 + y2 - y3];
  const det = dx1 * dy2 - dx2 * dy1;
  const g = (sx * dy2 - dx2 * sy) / det;
  const h = (dx1 * sy - sx * dy1) / det;
  return [x1 - x0 + g * x1, x3 - x0 + h * x3, x0, y1 - y0 + g * y1, y3 - y0 + h * y3, y0, g, h, 1];
}

/** Whether the corners go round in one direction. */
export function isConvex(quad: Quad): boolean {
  const turns = quad.map(([x, y], k) => {
    const [[xa, ya], [xb, yb]] = [quad[(k + 1) % 4], quad[(k + 2) % 4]];
    return Math.sign((xa - x) * (yb - ya) - (ya - y) * (xb - xa));
  });
  return turns[0] !== 0 && turns.every((t) => t === turns[0]);
}

/** Where a projection takes a point. */
export function projectedPoint(m: Projection, [u, v]: Point): Point {
  const w = m[6] * u + m[7] * v + m[8];
  return [(m[0] * u + m[1] * v + m[2]) / w, (m[3] * u + m[4] * v + m[5]) / w];
}

/** The projection that goes back. */
export function invertedProjection([a, b, c, d, e, f, g, h, i]: Projection): Projection {
  return [
    e * i - f * h,
    c * h - b * i,
    b * f - c * e,
    f * g - d * i,
    a * i - c * g,
    c * d - a * f,
    d * h - e * g,
    b * g - a * h,
    a * e - b * d,
  ];
}

/**
 * What lies within a quad, as seen from the front.
 *
 * @param width of the result, pixels
 * @param height of the result, pixels
 */
export function rectifiedField(image: GrayImage, quad: Quad, width: number, height: number): GrayImage {
  const m = projectionOf(quad);
  const out = blankImage(width, height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const [u, v] = [(x + 0.5) / width, (y + 0.5) / height];
      const w = m[6] * u + m[7] * v + m[8];
      const px = (m[0] * u + m[1] * v + m[2]) / w;
      const py = (m[3] * u + m[4] * v + m[5]) / w;
      out.data[y * width + x] = brightnessAt(image, px, py);
    }
  return out;
}
