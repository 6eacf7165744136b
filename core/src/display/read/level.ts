import { blankImage, blurred, type GrayImage } from '../image.ts';
import settings from './reading.json';

/** A field with its light evened out: 0 where nothing is written, 1 where something is. */
export interface Levelled {
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
export function levelled(field: GrayImage): Levelled | null {
  const { ground, inkShare, leastContrast } = settings.level;
  const calm = blurred(field, 1);
  const isLightOnDark = skewness(calm) >= 0;
  const bright = isLightOnDark ? calm : negative(calm);
  const radius = Math.max(2, Math.round(ground * field.height));
  const opened = negative(darkest(negative(darkest(bright, radius)), radius));
  const over = bright.data.map((b, k) => b - opened.data[k]);
  const contrast = quantile(over, inkShare);
  if (contrast < leastContrast) return null;
  return { ink: { ...calm, data: over.map((o) => Math.min(1, Math.max(0, o / contrast))) }, isLightOnDark, contrast };
}

const negative = (image: GrayImage): GrayImage => ({ ...image, data: image.data.map((b) => -b) });

/** Third moment of what differs from the light around it: above 0 where what is bright is seldom. */
function skewness(image: GrayImage): number {
  const around = blurred(image, Math.round(settings.level.around * image.height));
  return image.data.reduce((sum, b, k) => {
    const off = b - around.data[k];
    return sum + off * off * off;
  }, 0);
}

/** The darkest around every pixel, over a square: rows first, then columns. */
function darkest(image: GrayImage, radius: number): GrayImage {
  const along = ({ width, height, data }: GrayImage): GrayImage => {
    const out = blankImage(height, width);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        let least = Infinity;
        const to = Math.min(width - 1, x + radius);
        for (let k = Math.max(0, x - radius); k <= to; k++) {
          const b = data[y * width + k];
          if (b < least) least = b;
        }
        // Turned over, so that the second time goes along what were columns.
        out.data[x * height + y] = least;
      }
    return out;
  };
  return along(along(image));
}

function quantile(values: ArrayLike<number>, share: number): number {
  const sorted = Float32Array.from(values).sort();
  return sorted[Math.min(sorted.length - 1, Math.floor(share * sorted.length))];
}
