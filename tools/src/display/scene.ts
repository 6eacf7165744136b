import type { Random } from '@umbral/core';
import {
  type GrayImage,
  type Quad,
  projectedPoint,
  projectionOf,
  drawDisplay,
  type ShownNumber,
  drawStyle,
  type DisplayStyle,
  type StyleFamily,
} from '@umbral/core/display';
import { drawCamera, type Camera } from './film.ts';

/** A display of two numbers, one over the other, and a camera before it. */
export interface Scene {
  style: DisplayStyle;
  camera: Camera;
  /** The display from the front with these numbers on it. */
  draw: (upper: string, lower: string) => GrayImage;
  /** Where each number stands in the camera's picture. */
  fields: readonly [upper: Quad, lower: Quad];
}

const size = { width: 440, height: 200 };
const places = [
  { right: 0.93, middle: 0.28, height: 0.36 },
  { right: 0.93, middle: 0.74, height: 0.36 },
] as const;
/** Of the display's height, above and below a number, as somebody frames it. */
const margin = 0.06;

/** Somebody frames a number a little askew: a share of the display's height. */
const askew = 0.02;

/** A display and a camera by chance. */
export function drawScene(family: StyleFamily, random: Random): Scene {
  const style = drawStyle(family, random);
  const camera = drawCamera(size.width / size.height, random);
  const on = projectionOf(camera.quad);
  const off = (): number => (random() * 2 - 1) * askew;
  const framed = ({ middle, height }: (typeof places)[number]): Quad => {
    const [top, bottom] = [middle - height / 2 - margin, middle + height / 2 + margin];
    return [
      projectedPoint(on, [margin + off(), top + off()]),
      projectedPoint(on, [1 - margin / 2 + off(), top + off()]),
      projectedPoint(on, [1 - margin / 2 + off(), bottom + off()]),
      projectedPoint(on, [margin + off(), bottom + off()]),
    ];
  };
  return {
    style,
    camera,
    draw: (upper, lower) =>
      drawDisplay(
        style,
        [upper, lower].map((text, k): ShownNumber => ({ ...places[k], text })),
        size,
      ),
    fields: [framed(places[0]), framed(places[1])],
  };
}

/** A number as instruments show them: up to five digits, some behind a point. */
export function drawNumberText(random: Random): string {
  const decimals = Math.floor(random() * 4);
  const digits = decimals + 1 + Math.floor(random() * 2);
  const value = random() < 0.2 ? random() * 10 ** (1 - decimals) : random() * 10 ** (digits - decimals);
  return `${random() < 0.06 ? '-' : ''}${value.toFixed(decimals)}`;
}
