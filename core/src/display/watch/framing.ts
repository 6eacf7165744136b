import * as yup from 'yup';
import type { Point, Quad } from '../image.ts';
import { isConvex } from '../projection.ts';
import settings from './framing.json';

/** What a number on a display is. */
export type ShownQuantity = 'volts' | 'amps' | 'watts' | 'ignored';
export const shownQuantities = ['volts', 'amps', 'watts', 'ignored'] as const;

/** One number of a display, as somebody framed it. */
export interface FramedNumber {
  quantity: ShownQuantity;
  /** Corners as shares of the picture's width and height: top left, top right, bottom right, bottom left. */
  corners: Quad;
  /** What one of its units is in V, A or W: 0.001 where it shows mA. */
  unit: number;
  /** Digits behind the point; null where the display moves it by itself. */
  decimals: number | null;
}

/** How a camera looks at an instrument. */
export interface Framing {
  numbers: FramedNumber[];
  /** The camera gives left and right exchanged. */
  isMirrored: boolean;
}

const share = () =>
  yup
    .number()
    .strict()
    .min(-settings.outside)
    .max(1 + settings.outside)
    .required();
const point = yup.tuple([share(), share()]).required();
const numberSchema = yup
  .object({
    quantity: yup.string().oneOf(shownQuantities).required(),
    corners: yup
      .tuple([point, point, point, point])
      .required()
      .test('convex', '${path}: expected four corners in turn, none within the others', (quad) =>
        isConvex(quad as unknown as Quad),
      ),
    unit: yup.number().strict().positive().max(1).required(),
    decimals: yup.number().strict().integer().min(0).max(settings.maxDecimals).nullable().defined(),
  })
  .noUnknown()
  .strict();
const framingSchema = yup
  .object({
    numbers: yup
      .array(numberSchema)
      .min(1, 'numbers: frame at least one number')
      .max(settings.maxNumbers)
      .required()
      .test('one each', 'numbers: V, A and W can each be one number only', (list) => isOneEach(list as FramedNumber[])),
    isMirrored: yup.boolean().strict().required(),
  })
  .noUnknown()
  .strict();

function isOneEach(list: readonly FramedNumber[]): boolean {
  const named = list.map((n) => n.quantity).filter((q) => q !== 'ignored');
  return new Set(named).size === named.length;
}

/**
 * Reads how a display was framed.
 *
 * @throws {RangeError} with every key that is wrong and what was expected
 */
export function readFraming(value: unknown): Framing {
  try {
    return framingSchema.validateSync(value, { abortEarly: false }) as unknown as Framing;
  } catch (error) {
    if (error instanceof yup.ValidationError) throw new RangeError(`framing: ${error.errors.join('; ')}`);
    throw error;
  }
}

/** Corners in the pixels of a picture. */
export function cornersIn(corners: Quad, { width, height }: { width: number; height: number }): Quad {
  return corners.map(([x, y]): Point => [x * width, y * height]) as unknown as Quad;
}

/** Corners as shares of a picture. */
export function cornersOf(quad: Quad, { width, height }: { width: number; height: number }): Quad {
  return quad.map(([x, y]): Point => [x / width, y / height]) as unknown as Quad;
}
