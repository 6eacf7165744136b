import { type GrayImage, type Point, type Quad } from '../image.ts';
import { standingOut } from '../read/level.ts';
import { componentsOf, type Component } from './components.ts';
import settings from './find.json';

/** What may be a row of characters: where it stands, with its lean. Pixels. */
export interface InkRow {
  quad: Quad;
  /** Height of what is written. */
  height: number;
  /** How far its ink stands out from its ground, 0 to 1. */
  contrast: number;
  isLightOnDark: boolean;
}

/**
 * Rows of ink in a picture, for one width of stroke: what is thinner than that and stands out from its ground, joined along the row
 * as far as characters stand apart.
 *
 * @param stroke half the widest stroke, pixels
 */
export function inkRows(image: GrayImage, isLightOnDark: boolean, stroke: number): InkRow[] {
  const { width, height } = image;
  const { over, contrast } = standingOut(image, isLightOnDark, stroke, settings.inkShare);
  if (contrast < settings.minContrast) return [];
  const ink = over.map((o) => (o > settings.inkFrom * contrast ? 1 : 0));
  const mask = joined({ width, height, data: ink }, stroke);
  const parts = componentsOf(mask, width, height).filter((part) => isWritten(part, image));
  return inRows(parts).flatMap((part) => {
    const row = rowOf(part, ink, over, image);
    return row ? [{ ...row, isLightOnDark }] : [];
  });
}

/** Whether a part may be a character, or a point or bar of one: neither the rim of something nor a whole picture. */
function isWritten({ pixels, left, right, top, bottom }: Component, { width, height }: GrayImage): boolean {
  const touches = left === 0 || top === 0 || right === width || bottom === height;
  const fill = pixels.length / ((right - left) * (bottom - top));
  return !touches && bottom - top <= settings.height[1] * height && fill >= settings.join.minFill;
}

/** Parts of one row put together: those that stand beside each other, no farther apart than they are high. */
function inRows(parts: readonly Component[]): Component[] {
  const { apart, level, minPart } = settings.join;
  const rows: Component[] = [];
  // Tall ones first: points and bars go to them.
  for (const part of [...parts].sort((a, b) => b.bottom - b.top - (a.bottom - a.top))) {
    let merged = part;
    for (let k = rows.length - 1; k >= 0; k--) {
      const row = rows[k];
      const [tall, low] = [row.bottom - row.top, merged.bottom - merged.top];
      const high = Math.max(tall, low);
      const shared = Math.min(row.bottom, merged.bottom) - Math.max(row.top, merged.top);
      const gap = Math.max(row.left, merged.left) - Math.min(row.right, merged.right);
      if (Math.min(tall, low) < minPart * high || shared < level * Math.min(tall, low) || gap > apart * high) continue;
      merged = {
        pixels: [...row.pixels, ...merged.pixels],
        left: Math.min(row.left, merged.left),
        right: Math.max(row.right, merged.right),
        top: Math.min(row.top, merged.top),
        bottom: Math.max(row.bottom, merged.bottom),
      };
      rows.splice(k, 1);
    }
    rows.push(merged);
  }
  return rows;
}

/** Ink spread along the row and a little across it: characters of a number hang together, and the bars of a digit. */
function joined({ width, height, data }: GrayImage, stroke: number): Uint8Array {
  const { along, across } = settings.join;
  const [dx, dy] = [Math.round(along * stroke), Math.round(across * stroke)];
  const rows = new Uint8Array(width * height);
  for (let y = 0; y < height; y++) {
    let until = -1;
    for (let x = 0; x < width + dx; x++) {
      if (x < width && data[y * width + x] > 0) until = x + dx;
      const at = x - dx;
      if (at >= 0 && x <= until) rows[y * width + at] = 1;
      if (x < width && x <= until) rows[y * width + x] = 1;
    }
  }
  const out = new Uint8Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      if (!rows[y * width + x]) continue;
      for (let k = Math.max(0, y - dy); k <= Math.min(height - 1, y + dy); k++) out[k * width + x] = 1;
    }
  return out;
}

/** The upright box of a part along the direction that its ink runs in. */
function rowOf(
  part: Component,
  ink: Float32Array,
  over: Float32Array,
  { width, height }: GrayImage,
): Omit<InkRow, 'isLightOnDark'> | null {
  const inked = part.pixels.filter((p) => ink[p] > 0);
  const points = inked.map((p): Point => [(p % width) + 0.5, Math.floor(p / width) + 0.5]);
  const { height: heights, aspect } = settings;
  if (points.length < heights[0]) return null;
  const lean = leanOf(points);
  const [cos, sin] = [Math.cos(lean), Math.sin(lean)];
  const [u, v] = [points.map(([x, y]) => x * cos + y * sin), points.map(([x, y]) => y * cos - x * sin)];
  const [left, right] = spanOf(u);
  const [top, bottom] = spanOf(v);
  const [w, h] = [right - left, bottom - top];
  if (h < heights[0] || h > heights[1] * height || w / h < aspect[0] || w / h > aspect[1]) return null;
  const back = (a: number, b: number): Point => [a * cos - b * sin, a * sin + b * cos];
  return {
    quad: [back(left, top), back(right, top), back(right, bottom), back(left, bottom)],
    height: h,
    contrast: inked.reduce((sum, p) => sum + over[p], 0) / inked.length,
  };
}

/** The direction in which a row is lowest, radians: characters of a row stand on one line. */
function leanOf(points: readonly Point[]): number {
  const { most, step } = settings.lean;
  const every = Math.max(1, Math.floor(points.length / settings.lean.points));
  const some = points.filter((_, k) => k % every === 0);
  let [best, lowest] = [0, Infinity];
  for (let lean = -most; lean <= most + 1e-9; lean += step) {
    const [sin, cos] = [Math.sin(lean), Math.cos(lean)];
    const [top, bottom] = spanOf(some.map(([x, y]) => y * cos - x * sin));
    // What leans less is likelier where both are as low.
    const height = (bottom - top) * (1 + settings.lean.price * Math.abs(lean));
    if (height < lowest) [best, lowest] = [lean, height];
  }
  return best;
}

/** From one edge to the other, without the few that stand out by noise. */
function spanOf(values: number[]): [number, number] {
  const sorted = Float64Array.from(values).sort();
  const off = Math.floor((settings.edge * sorted.length) / 2);
  return [sorted[off] - 0.5, sorted[sorted.length - 1 - off] + 0.5];
}
