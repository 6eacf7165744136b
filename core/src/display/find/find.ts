import type { Network } from '../classify/network.ts';
import { reducedImage, type GrayImage, type Point, type Quad } from '../image.ts';
import { isConvex, projectedPoint, projectionOf } from '../projection.ts';
import { fieldCharacters } from '../read/field.ts';
import { readField, type Candidate } from '../read/candidate.ts';
import settings from './find.json';
import { inkRows, type InkRow } from './rows.ts';

/** A number that was found in a picture. */
export interface FoundNumber {
  /** Corners with a margin, as somebody would frame it. Pixels. */
  quad: Quad;
  reads: Candidate;
  /** How far it stands out from its ground, 0 to 1. */
  contrast: number;
  /** Share of the ways to frame it that read the same, weighed by how sure they are: 0 to 1. */
  agreed: number;
}

/**
 * Finds the numbers in a picture: rows of thin ink of any size, bright or dark, that read as digits. It takes about a second;
 * meant for framing, not for every picture.
 *
 * @returns the surest first, none twice
 */
export function findNumbers(net: Network, picture: GrayImage): FoundNumber[] {
  const share = Math.min(1, settings.maxWidth / picture.width);
  const small =
    share < 1 ? reducedImage(picture, Math.round(picture.width * share), Math.round(picture.height * share)) : picture;
  const rows = [true, false].flatMap((isLight) => settings.strokes.flatMap((s) => inkRows(small, isLight, s)));
  const found = withoutTwins(rows).flatMap((row) => readRow(net, small, row) ?? []);
  const best: FoundNumber[] = [];
  for (const f of found.sort((a, b) => worth(b) - worth(a)))
    // Far less likely than the likeliest: noise, an edge, a reflection.
    if (worth(f) >= settings.keepFrom * worth(best.at(0) ?? f) && best.every((other) => !overlap(other.quad, f.quad)))
      best.push(f);
  const likeliest = best.at(0);
  if (likeliest && best.filter(isSure).length < 2)
    for (const other of besideOf(net, small, likeliest))
      if (best.every((b) => !overlap(b.quad, other.quad))) best.push(other);
  const back = (quad: Quad): Quad => quad.map(([x, y]): Point => [x / share, y / share]) as unknown as Quad;
  return best.slice(0, settings.most).map((f) => ({ ...f, quad: back(withRoom(net, small, f)) }));
}

/**
 * The same in the best of several pictures of one display, taken one after the other: what a changing digit, a reflection or a
 * band of light hides in one shows in another. Looks no further than a picture with two sure numbers.
 *
 * @param pictures in the order in which they were taken
 */
export function findInPictures(net: Network, pictures: Iterable<GrayImage>): FoundNumber[] {
  let best: FoundNumber[] = [];
  for (const picture of pictures) {
    const found = findNumbers(net, picture);
    if (pairWorth(found) > pairWorth(best)) best = found;
    if (best.slice(0, 2).filter(isSure).length === 2) break;
  }
  return best;
}

/** How much the two numbers of a display are worth together. */
const pairWorth = (found: readonly FoundNumber[]): number =>
  found
    .map(worth)
    .sort((a, b) => b - a)
    .slice(0, 2)
    .reduce((sum, w) => sum + w, 0);

const isSure = ({ agreed, reads }: FoundNumber): boolean =>
  agreed >= settings.sure && reads.text.replace(/\D/g, '').length > settings.minCharacters;

/** How likely a row is a number that somebody means: sure, of several characters, and well seen. */
const worth = ({ reads, contrast, agreed }: FoundNumber): number =>
  agreed * Math.sqrt(contrast * reads.text.replace(/\D/g, '').length);

/**
 * Numbers over and under one that was found: displays show them in lines of one direction, and where one line reads the other is
 * near. Frames at many distances that read the same are one number.
 */
function besideOf(net: Network, picture: GrayImage, { quad, contrast, reads: first }: FoundNumber): FoundNumber[] {
  const [[x0, y0], [x1, y1], , [x3, y3]] = quad;
  const heights = Math.hypot(x3 - x0, y3 - y0) / Math.hypot(x1 - x0, y1 - y0);
  const { distances, sizes, lefts, minVotes, enoughVotes } = settings.beside;
  return [-1, 1].flatMap((side) => {
    const seen = distances.flatMap((distance) =>
      sizes.flatMap((size) =>
        lefts.flatMap((left): FoundNumber[] => {
          const middle = 0.5 + side * distance;
          const frame = part(quad, -left * heights, middle - size / 2, 1, middle + size / 2);
          if (!isConvex(frame) || !isInside(frame, picture)) return [];
          const reads = readField(net, picture, frame);
          if (typeof reads === 'string' || reads.p < settings.minSure) return [];
          if (reads.isLightOnDark !== first.isLightOnDark) return [];
          const isLong = reads.text.replace(/\D/g, '').length >= settings.minCharacters;
          return isLong ? [{ quad: frame, reads, contrast, agreed: 0 }] : [];
        }),
      ),
    );
    const votes = new Map<string, number>();
    for (const { reads } of seen) votes.set(reads.text, (votes.get(reads.text) ?? 0) + reads.p);
    const [text, vote] = [...votes].reduce((a, b) => (b[1] > a[1] ? b : a), ['', 0]);
    if (vote < minVotes) return [];
    const best = seen.filter((f) => f.reads.text === text).reduce((a, b) => (a.reads.p >= b.reads.p ? a : b));
    return [{ ...best, agreed: Math.min(1, vote / enoughVotes) }];
  });
}

const isInside = (quad: Quad, { width, height }: GrayImage): boolean =>
  quad.every(([x, y]) => x >= 0 && y >= 0 && x <= width && y <= height);

/**
 * The same frame with room to the left, where a longer number will stand: as far as it still reads the same there.
 */
function withRoom(net: Network, picture: GrayImage, { quad, reads }: FoundNumber): Quad {
  const [[x0, y0], [x1, y1], , [x3, y3]] = quad;
  const heights = Math.hypot(x3 - x0, y3 - y0) / Math.hypot(x1 - x0, y1 - y0);
  for (const room of settings.rooms) {
    const wide = part(quad, -room * heights, 0, 1, 1);
    if (!isConvex(wide)) continue;
    const again = readField(net, picture, wide);
    if (typeof again !== 'string' && again.text === reads.text && again.p >= settings.sameFrom * reads.p) return wide;
  }
  return quad;
}

/** Rows of nearly the same place are tried once: the same ink is found with several widths of stroke. */
function withoutTwins(rows: readonly InkRow[]): InkRow[] {
  const out: InkRow[] = [];
  for (const row of rows) {
    const near = (q: InkRow): boolean =>
      row.quad.every(
        ([x, y], k) => Math.hypot(x - q.quad[k][0], y - q.quad[k][1]) < settings.margins.above[0] * row.height,
      );
    if (!out.some(near)) out.push(row);
  }
  return out;
}

/** What a row reads as, framed in several ways; a unit behind it is left out only where it does not read with it. */
function readRow(net: Network, picture: GrayImage, row: InkRow): FoundNumber | null {
  const turned = settings.turns.map((turn) => settings.margins.above.map((above) => framed(row.quad, above, turn)));
  const bare = turned.map((frames) => frames.flatMap((quad) => withoutUnit(picture, quad)));
  let best: FoundNumber | null = null;
  for (const ways of [turned, bare]) {
    // What reads as nothing straight on is not tried askew.
    if (!surest(net, picture, ways[0], row)) continue;
    const found = surest(net, picture, ways.flat(), row);
    if (found && (!best || found.agreed > best.agreed)) best = found;
    if (best && best.agreed >= settings.wholeFrom) break;
  }
  return best;
}

/** What most of the frames read, weighed by how sure they are: one that is a little askew may be sure of something else. */
function surest(net: Network, picture: GrayImage, frames: readonly Quad[], row: InkRow): FoundNumber | null {
  const { contrast, isLightOnDark } = row;
  const seen = frames.flatMap((quad): FoundNumber[] => {
    const reads = readField(net, picture, quad);
    // Ground between dark characters looks like bright ones.
    if (typeof reads === 'string' || reads.p < settings.minSure || reads.isLightOnDark !== isLightOnDark) return [];
    return reads.text.replace(/\D/g, '').length >= settings.minCharacters ? [{ quad, reads, contrast, agreed: 0 }] : [];
  });
  const votes = new Map<string, number>();
  for (const { reads } of seen) votes.set(reads.text, (votes.get(reads.text) ?? 0) + reads.p);
  const [text, vote] = [...votes].reduce((a, b) => (b[1] > a[1] ? b : a), ['', 0]);
  const best = seen
    .filter((f) => f.reads.text === text)
    .reduce<FoundNumber | null>((a, b) => (a && a.reads.p >= b.reads.p ? a : b), null);
  return best && { ...best, agreed: vote / frames.length };
}

/** A row with room around it, as shares of its height, turned by an angle about its middle. */
function framed(quad: Quad, above: number, turn: number): Quad {
  const height = Math.hypot(quad[3][0] - quad[0][0], quad[3][1] - quad[0][1]);
  const width = Math.hypot(quad[1][0] - quad[0][0], quad[1][1] - quad[0][1]);
  const beside = (settings.margins.beside * height) / width;
  const wide = part(quad, -beside, -above, 1 + beside, 1 + above);
  const [mx, my] = [0, 1].map((k) => quad.reduce((sum, p) => sum + p[k], 0) / quad.length);
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  return wide.map(([x, y]): Point => [
    mx + (x - mx) * cos - (y - my) * sin,
    my + (x - mx) * sin + (y - my) * cos,
  ]) as unknown as Quad;
}

/** Part of a quad: shares of its width and height, below 0 and above 1 for what lies around it. */
function part(quad: Quad, left: number, top: number, right: number, bottom: number): Quad {
  const on = projectionOf(quad);
  return [
    projectedPoint(on, [left, top]),
    projectedPoint(on, [right, top]),
    projectedPoint(on, [right, bottom]),
    projectedPoint(on, [left, bottom]),
  ];
}

/** The same without its last characters: a unit often stands behind a number. */
function withoutUnit(picture: GrayImage, quad: Quad): Quad[] {
  const row = fieldCharacters(picture, quad);
  if (typeof row === 'string') return [];
  const least = settings.minCharacters;
  return Array.from({ length: settings.dropRight }, (_, k) => k + 1)
    .filter((n) => row.boxes.length - n >= least)
    .map((n) => {
      const [last, next] = [row.boxes[row.boxes.length - n - 1], row.boxes[row.boxes.length - n]];
      const cut = (last.right + (next.left - last.right) * settings.margins.joined) / row.ink.width;
      return part(quad, 0, 0, cut, 1);
    })
    .filter(isConvex);
}

/** Whether the middle of one lies within the other. */
function overlap(a: Quad, b: Quad): boolean {
  const middle = (q: Quad): Point =>
    [0, 1].map((k) => q.reduce((sum, p) => sum + p[k], 0) / q.length) as unknown as Point;
  return isWithin(middle(a), b) || isWithin(middle(b), a);
}

/** Whether a point lies within a quad whose corners go round. */
export function isWithin([x, y]: Point, quad: Quad): boolean {
  const sides = quad.map(([ax, ay], k) => {
    const [bx, by] = quad[(k + 1) % quad.length];
    return Math.sign((bx - ax) * (y - ay) - (by - ay) * (x - ax));
  });
  return sides.every((s) => s >= 0) || sides.every((s) => s <= 0);
}
