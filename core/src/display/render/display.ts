import { blankImage, blurredImage, type GrayImage } from '../image.ts';
import { inkOf } from './glyphs.ts';
import type { DisplayStyle } from './style.ts';

/** A number on a display: its characters, and where they stand. Shares of the display's width and height. */
export interface ShownNumber {
  text: string;
  /** The right edge of its last character, and the middle of its height. */
  right: number;
  middle: number;
  /** Height of its characters. */
  height: number;
}

/** Tries within a pixel, each way: edges are as grey as they are covered. */
const tries = 3;
const everySegment = 'all segments';

/**
 * Draws a display from the front.
 *
 * @param size pixels
 */
export function drawDisplay(
  style: DisplayStyle,
  numbers: readonly ShownNumber[],
  size: { width: number; height: number },
): GrayImage {
  const cover = blankImage(size.width, size.height);
  for (const n of numbers) drawNumber(cover, style, n);
  const spread = blurredImage(
    blurredImage(cover, Math.round(style.bleed * size.height * 0.5)),
    Math.round(style.bleed * size.height * 0.25),
  );
  const out = blankImage(size.width, size.height);
  for (let k = 0; k < out.data.length; k++) {
    const lit = Math.min(1, Math.max(cover.data[k], spread.data[k]));
    out.data[k] = style.ground + (style.ink - style.ground) * lit;
  }
  return out;
}

function drawNumber(cover: GrayImage, style: DisplayStyle, { text, right, middle, height }: ShownNumber): void {
  const scale = height * cover.height;
  const top = middle * cover.height - scale / 2;
  const step = style.aspect + style.pitch;
  const chars = [...text].filter((c) => c !== '.');
  const points = pointsOf(text);
  const ink = inkOf(style);
  const left = right * cover.width - chars.length * step * scale;
  const isInk = (x: number, y: number): number => {
    if (y < -0.1 || y > 1.1) return 0;
    const along = x - style.slant * (1 - y);
    const k = Math.floor(along / step);
    if (k < 0 || k >= chars.length) return 0;
    const within = along - k * step;
    if (y >= 0 && y <= 1 && within <= style.aspect) {
      if (ink(chars[k], within, y)) return 1;
      if (style.unlit > 0 && style.kind === 'segments' && unlitInk(style)(everySegment, within, y)) return style.unlit;
    }
    if (points.has(k)) {
      const [dx, dy] = [within - style.aspect - style.pitch / 2, y - 1 + style.dotRadius];
      if (dx * dx + dy * dy <= style.dotRadius ** 2) return 1;
    }
    return 0;
  };
  const [x0, x1] = [
    Math.max(0, Math.floor(left - scale)),
    Math.min(cover.width, Math.ceil(right * cover.width + scale)),
  ];
  const [y0, y1] = [Math.max(0, Math.floor(top - 0.1 * scale)), Math.min(cover.height, Math.ceil(top + 1.1 * scale))];
  for (let y = y0; y < y1; y++)
    for (let x = x0; x < x1; x++) {
      let sum = 0;
      for (let b = 0; b < tries; b++)
        for (let a = 0; a < tries; a++)
          sum += isInk((x + (a + 0.5) / tries - left) / scale, (y + (b + 0.5) / tries - top) / scale);
      cover.data[y * cover.width + x] = Math.max(cover.data[y * cover.width + x], sum / tries ** 2);
    }
}

const unlit = new WeakMap<DisplayStyle, ReturnType<typeof inkOf>>();

/** Every segment of a style at once, as it shimmers through where it is off. */
function unlitInk(style: DisplayStyle): ReturnType<typeof inkOf> {
  const known = unlit.get(style);
  if (known) return known;
  const ink = inkOf({ ...style, missing: null });
  const made: ReturnType<typeof inkOf> = (_char, x, y) => ink('8', x, y);
  unlit.set(style, made);
  return made;
}

/** Characters, from 0, that have a point after them. */
export function pointsOf(text: string): Set<number> {
  const out = new Set<number>();
  let k = -1;
  for (const c of text)
    if (c === '.') out.add(k);
    else k++;
  return out;
}
