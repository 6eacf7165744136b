import { blankImage, brightnessAt, type GrayImage } from '../image.ts';
import settings from './reading.json';

/** A stretch of a row of characters, pixels: one character, as far as it can be told. */
export interface CharacterBox {
  left: number;
  right: number;
}

/** Characters of a field, upright, with the row that they stand in. */
export interface CharacterRow {
  ink: GrayImage;
  boxes: CharacterBox[];
  top: number;
  bottom: number;
  /** How far the characters leaned, in their height. */
  slant: number;
  /** Something written reaches the left or right edge: there may be more of it outside. */
  isCut: boolean;
}

/**
 * Finds the characters of a field.
 *
 * @param ink the field with its light evened out
 * @returns null where there is no row of characters
 */
export function charactersOf(ink: GrayImage): CharacterRow | null {
  const rows = rowOf(ink);
  if (!rows) return null;
  const slant = slantOf(ink, rows);
  const upright = slant === 0 ? ink : sheared(ink, rows, slant);
  const height = rows.bottom - rows.top;
  const runs = runsOf(upright, rows);
  const boxes = withoutRim(runs, upright.width, height).flatMap((box) => split(upright, rows, box, height));
  const isCut = reachesEdge(upright, rows, Math.ceil(slant * height));
  return boxes.length === 0 ? null : { ink: upright, boxes, ...rows, slant, isCut };
}

interface Rows {
  top: number;
  bottom: number;
}

/** Top and bottom of what is written: the longest stretch of rows with ink. */
function rowOf({ width, height, data }: GrayImage): Rows | null {
  const { inkFrom } = settings.level;
  const least = settings.run.minInk * height;
  const hasInk = Array.from({ length: height }, (_, y) => {
    let n = 0;
    for (let x = 0; x < width; x++) if (data[y * width + x] > inkFrom) n++;
    return n >= Math.max(2, least);
  });
  let best: Rows | null = null;
  let from = -1;
  const maxGap = Math.max(1, Math.round(settings.run.bridge * height * 2));
  for (let y = 0; y <= height; y++) {
    if (hasInk[y]) from = from < 0 ? y : from;
    else if (from >= 0 && !hasInk.slice(y, y + maxGap).some(Boolean)) {
      if (!best || y - from > best.bottom - best.top) best = { top: from, bottom: y };
      from = -1;
    }
  }
  return best && best.bottom - best.top >= settings.run.minHeight * height ? best : null;
}

/** Ink by column, over the part of the rows in which no decimal point stands. */
function columnsOf(
  { width, data }: GrayImage,
  { top, bottom }: Rows,
  shift: (y: number) => number = () => 0,
): Float32Array {
  const end = Math.round(top + settings.run.above * (bottom - top));
  const out = new Float32Array(width);
  const { unlit } = settings.level;
  for (let y = top; y < end; y++) {
    const by = Math.round(shift(y));
    const row = y * width + by;
    const to = Math.min(width, width - by);
    // What shimmers through without being lit is no ink.
    for (let x = Math.max(0, -by); x < to; x++) if (data[row + x] > unlit) out[x] += data[row + x] - unlit;
  }
  for (let x = 0; x < width; x++) out[x] /= Math.max(1, end - top) * (1 - unlit);
  return out;
}

/** The lean at which the columns differ most: upright bars pile up then. */
function slantOf(ink: GrayImage, rows: Rows): number {
  const { most, step } = settings.slant;
  let [best, bestScore] = [0, -1];
  for (let s = 0; s <= most + 1e-9; s += step) {
    const columns = columnsOf(ink, rows, (y) => s * (rows.bottom - y));
    const score = columns.reduce((sum, c) => sum + c * c, 0);
    if (score > bestScore * (1 + 1e-3)) [best, bestScore] = [s, score];
  }
  return best;
}

function sheared(ink: GrayImage, { bottom }: Rows, slant: number): GrayImage {
  const out = blankImage(ink.width, ink.height);
  for (let y = 0; y < ink.height; y++)
    for (let x = 0; x < ink.width; x++)
      out.data[y * ink.width + x] = brightnessAt(ink, x + 0.5 + slant * (bottom - y - 0.5), y + 0.5);
  return out;
}

function runsOf(ink: GrayImage, rows: Rows): CharacterBox[] {
  const height = rows.bottom - rows.top;
  const columns = columnsOf(ink, rows);
  const { minInk, bridge, minWidth } = settings.run;
  const out: CharacterBox[] = [];
  let from = -1;
  let last = -1;
  for (let x = 0; x <= ink.width; x++) {
    const isInk = x < ink.width && columns[x] > minInk;
    if (isInk) {
      if (from < 0) from = x;
      last = x;
    } else if (from >= 0 && (x === ink.width || x - last > bridge * height)) {
      if (last + 1 - from >= minWidth * height) out.push({ left: from, right: last + 1 });
      from = -1;
    }
  }
  return out;
}

/** Ink in the first columns, or in the last, a point too: where the row was leaning, what was cut begins a little further in. */
function reachesEdge({ width, data }: GrayImage, { top, bottom }: Rows, lean: number): boolean {
  const { edge, edgeInk } = settings.run;
  const isInked = (x: number): boolean => {
    let inked = 0;
    for (let y = top; y < bottom; y++) if (data[y * width + x] > settings.level.inkFrom) inked++;
    return inked >= Math.max(2, edgeInk * (bottom - top));
  };
  for (let x = 0; x < edge + lean; x++) if (isInked(x)) return true;
  for (let x = width - edge; x < width; x++) if (isInked(x)) return true;
  return false;
}

const touchesEdge = ({ left, right }: CharacterBox, width: number): boolean => left <= 0 || right >= width;

/** The rim of the display looks like a bar. */
const withoutRim = (runs: readonly CharacterBox[], width: number, height: number): CharacterBox[] =>
  runs.filter((run) => !touchesEdge(run, width) || run.right - run.left > settings.run.rim * height);

/** Two characters that touch: cut where there is least ink. */
function split(ink: GrayImage, rows: Rows, box: CharacterBox, height: number): CharacterBox[] {
  const width = box.right - box.left;
  const parts = Math.round(width / (settings.run.usualWidth * height));
  if (width <= settings.run.widest * height || parts < 2) return [box];
  const columns = columnsOf(ink, rows);
  const cuts = Array.from({ length: parts - 1 }, (_, k) => {
    const at = box.left + ((k + 1) * width) / parts;
    const reach = (settings.run.cutWithin * width) / parts;
    let best = Math.round(at);
    for (let x = Math.ceil(at - reach); x <= at + reach; x++) if (columns[x] < columns[best]) best = x;
    return best;
  });
  const edges = [box.left, ...cuts, box.right];
  return edges.slice(1).map((right, k) => ({ left: edges[k], right }));
}

/**
 * A character and what stands to its right, where its point would be, in a square of one size.
 *
 * @returns size x size numbers, row by row
 */
export function cellOf({ ink, top, bottom }: CharacterRow, { left, right }: CharacterBox): Float32Array {
  const { size, left: before, right: after } = settings.cell;
  const height = bottom - top;
  const middle = (left + right) / 2;
  const out = new Float32Array(size * size);
  const [stepX, stepY] = [((before + after) * height) / size, height / size];
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const px = middle - before * height + (x + 0.5) * stepX;
      out[y * size + x] = px < 0 || px > ink.width ? 0 : brightnessAt(ink, px, top + (y + 0.5) * stepY);
    }
  return out;
}
