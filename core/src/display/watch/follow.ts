import { blurredImage, reducedImage, type GrayImage } from '../image.ts';
import settings from './follow.json';

/** How far a picture has moved from the one that was framed, in shares of its width and height. */
export interface Moved {
  x: number;
  y: number;
  /** How well the two fit there: 1 for the same, near 0 for another picture. */
  fit: number;
}

/**
 * Follows a camera that is pushed a little: holds every picture against the one that was framed, made small and with its light evened
 * out, and finds where the two fit best.
 *
 * @see J. Lewis, Fast normalized cross-correlation, 1995
 */
export class Follower {
  private reference: GrayImage | null = null;
  private last: Moved = { x: 0, y: 0, fit: 1 };

  /** The picture that corners were set in; everything is told against it from now on. */
  setReference(picture: GrayImage): void {
    this.reference = small(picture);
    this.last = { x: 0, y: 0, fit: 1 };
  }

  /** Where the camera looks now. Without a reference nothing has moved, and the picture becomes it. */
  moved(picture: GrayImage): Moved {
    if (!this.reference) this.setReference(picture);
    const now = small(picture);
    const reference = this.reference ?? now;
    const { width, height } = now;
    const at = { x: Math.round(this.last.x * width), y: Math.round(this.last.y * height) };
    const near = bestShift(reference, now, at, settings.near);
    // It went farther than it can be followed step by step: looked for everywhere.
    const best =
      near.fit >= settings.sureFit ? near : better(near, bestShift(reference, now, { x: 0, y: 0 }, settings.far));
    this.last = { x: best.x / width, y: best.y / height, fit: best.fit };
    return this.last;
  }
}

const better = (a: Moved, b: Moved): Moved => (b.fit > a.fit ? b : a);

/** A picture small enough to be compared many times, only with what differs from the light around it. */
function small(picture: GrayImage): GrayImage {
  const { width } = settings;
  const height = Math.max(1, Math.round((picture.height * width) / picture.width));
  const image = reducedImage(picture, width, height);
  const around = blurredImage(image, settings.around);
  return { ...image, data: image.data.map((b, k) => b - around.data[k]) };
}

/** The shift about `at` for which a picture correlates best, refined to parts of a pixel by a parabola. */
function bestShift(reference: GrayImage, now: GrayImage, at: { x: number; y: number }, reach: number): Moved {
  let best: Moved = { ...at, fit: -1 };
  for (let dy = at.y - reach; dy <= at.y + reach; dy++)
    for (let dx = at.x - reach; dx <= at.x + reach; dx++) {
      const fit = correlation(reference, now, dx, dy);
      if (fit > best.fit) best = { x: dx, y: dy, fit };
    }
  const [x, y] = [best.x, best.y];
  const peak = (before: number, after: number): number => {
    const bend = before - 2 * best.fit + after;
    return bend < 0 ? Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : 0;
  };
  return {
    x: x + peak(correlation(reference, now, x - 1, y), correlation(reference, now, x + 1, y)),
    y: y + peak(correlation(reference, now, x, y - 1), correlation(reference, now, x, y + 1)),
    fit: best.fit,
  };
}

/** Correlation of what both pictures show when one is shifted: -1 to 1. */
function correlation(reference: GrayImage, now: GrayImage, dx: number, dy: number): number {
  const { width, height } = reference;
  let [ab, aa, bb] = [0, 0, 0];
  for (let y = Math.max(0, -dy); y < Math.min(height, height - dy); y++)
    for (let x = Math.max(0, -dx); x < Math.min(width, width - dx); x++) {
      const a = reference.data[y * width + x];
      const b = now.data[(y + dy) * width + x + dx];
      ab += a * b;
      aa += a * a;
      bb += b * b;
    }
  return ab / Math.sqrt(aa * bb + 1e-12);
}
