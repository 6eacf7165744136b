import { invertedProjection, type Point } from '../display/index.ts';
import type { Alignment } from './alignment.ts';

/** A picture in colour: `channels` bytes for each pixel, row by row. */
interface ColourImage {
  width: number;
  height: number;
  channels: number;
  data: Uint8Array | Uint8ClampedArray;
}

/** A part of the board, in widths of the board. */
interface Region {
  x: number;
  y: number;
  width: number;
  height: number;
}

/**
 * A part of the board as a picture shows it, seen from the front.
 *
 * @param alignment of the picture on the board
 * @param width of the result, pixels; its height follows
 * @param outside what stands where the picture does not reach, a byte for every channel
 */
export function cutOut(
  picture: ColourImage,
  alignment: Alignment,
  region: Region,
  width: number,
  outside = 0,
): ColourImage {
  const { channels } = picture;
  const height = Math.max(1, Math.round((width * region.height) / region.width));
  const out = new Uint8ClampedArray(width * height * channels).fill(outside);
  const m = invertedProjection(alignment);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bx = region.x + ((x + 0.5) / width) * region.width;
      const by = region.y + ((y + 0.5) / height) * region.height;
      const w = m[6] * bx + m[7] * by + m[8];
      const px = ((m[0] * bx + m[1] * by + m[2]) / w) * picture.width;
      const py = ((m[3] * bx + m[4] * by + m[5]) / w) * picture.width;
      if (w === 0 || px < 0 || py < 0 || px > picture.width || py > picture.height) continue;
      sample(picture, px - 0.5, py - 0.5, out, (y * width + x) * channels);
    }
  return { width, height, channels, data: out };
}

/** The colour between four pixels. */
function sample(
  { width, height, channels, data }: ColourImage,
  x: number,
  y: number,
  out: Uint8ClampedArray,
  at: number,
) {
  const inside = (v: number, most: number): number => Math.min(most - 1, Math.max(0, v));
  const [x0, y0] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - x0, y - y0];
  const [xa, xb, ya, yb] = [inside(x0, width), inside(x0 + 1, width), inside(y0, height), inside(y0 + 1, height)];
  for (let c = 0; c < channels; c++) {
    const v = (px: number, py: number): number => data[(py * width + px) * channels + c];
    const top = v(xa, ya) * (1 - fx) + v(xb, ya) * fx;
    const bottom = v(xa, yb) * (1 - fx) + v(xb, yb) * fx;
    out[at + c] = Math.round(top * (1 - fy) + bottom * fy);
  }
}

/** The part of a board around a place, kept within the board. Widths of the board. */
export function regionAround([x, y]: Point, boardHeight: number, size: number): Region {
  const width = Math.min(1, size);
  const height = Math.min(boardHeight, size * cutShape);
  const start = (at: number, length: number, most: number): number =>
    Math.min(most - length, Math.max(0, at - length / 2));
  return { x: start(x, width, 1), y: start(y, height, boardHeight), width, height };
}

/** Height of a cut, in its width. */
const cutShape = 0.75;
