import { blankImage, blurredImage, type GrayImage } from '../image.ts';
import settings from './reading.json';

/** A field with its light evened out: 0 where nothing is written, 1 where something is. */
interface Levelled {
  ink: GrayImage;
  isLightOnDark: boolean;
  /** How much brighter or darker the ink is than its ground, 0 to 1. */
  contrast: number;
}

/**
 * Evens out the light over a field and says whether its characters are bright or dark: strokes are thinner than what the
 * light changes over, so the ground is what is left when everything thin is taken away.
 *
 * @returns null where nothing stands out from its ground: a display that is off, a dark bench, a hand
 * @see J. Serra, Image Analysis and Mathematical Morphology, 1982: the top-hat transform
 */
export function levelledField(field: GrayImage): Levelled | null {
  const { ground, inkShare, minContrast } = settings.level;
  const calm = blurredImage(field, 1);
  const isLightOnDark = skewness(calm) >= 0;
  const radius = Math.max(2, Math.round(ground * field.height));
  const { over, contrast } = standingOut(calm, isLightOnDark, radius, inkShare);
  if (contrast < minContrast) return null;
  return { ink: { ...calm, data: over.map((o) => Math.min(1, Math.max(0, o / contrast))) }, isLightOnDark, contrast };
}

/**
 * How far every pixel stands out from its ground: what is left of it when everything thin is taken away.
 *
 * @param radius half of what counts as thin, pixels
 * @param inkShare the share of all pixels that stand out less than `contrast`
 */
export function standingOut(
  image: GrayImage,
  isLightOnDark: boolean,
  radius: number,
  inkShare: number,
): { over: Float32Array; contrast: number } {
  const bright = isLightOnDark ? image : negative(image);
  const opened = negative(darkest(negative(darkest(bright, radius)), radius));
  const over = bright.data.map((b, k) => b - opened.data[k]);
  return { over, contrast: quantile(over, inkShare) };
}

const negative = (image: GrayImage): GrayImage => ({ ...image, data: image.data.map((b) => -b) });

/** Third moment of what differs from the light around it: above 0 where what is bright is seldom. */
function skewness(image: GrayImage): number {
  const around = blurredImage(image, Math.round(settings.level.around * image.height));
  return image.data.reduce((sum, b, k) => {
    const off = b - around.data[k];
    return sum + off * off * off;
  }, 0);
}

/**
 * The darkest around every pixel, over a square: rows first, then columns. Three comparisons a pixel, however large the square.
 *
 * @see M. van Herk, A fast algorithm for local minimum and maximum filters on rectangular and octagonal kernels, 1992
 */
function darkest(image: GrayImage, radius: number): GrayImage {
  return darkestAlong(darkestAlong(image, radius), radius);
}

/** Along the rows, and turned over, so that the second time goes along what were columns. */
function darkestAlong({ width, height, data }: GrayImage, radius: number): GrayImage {
  const out = blankImage(height, width);
  const size = 2 * radius + 1;
  const padded = Math.ceil((width + 2 * radius) / size) * size;
  const row = new Float32Array(padded);
  const [fromLeft, fromRight] = [new Float32Array(padded), new Float32Array(padded)];
  for (let y = 0; y < height; y++) {
    row.fill(Infinity);
    row.set(data.subarray(y * width, (y + 1) * width), radius);
    for (let from = 0; from < padded; from += size) {
      let least = Infinity;
      for (let x = from; x < from + size; x++) fromLeft[x] = row[x] < least ? (least = row[x]) : least;
      least = Infinity;
      for (let x = from + size - 1; x >= from; x--) fromRight[x] = row[x] < least ? (least = row[x]) : least;
    }
    for (let x = 0; x < width; x++) out.data[x * height + y] = Math.min(fromRight[x], fromLeft[x + size - 1]);
  }
  return out;
}

/** A quantile of every few of the values: enough for a threshold. */
function quantile(values: Float32Array, share: number): number {
  const { everyFew } = settings.level;
  const sorted = Float32Array.from(
    { length: Math.ceil(values.length / everyFew) },
    (_, k) => values[k * everyFew],
  ).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}
