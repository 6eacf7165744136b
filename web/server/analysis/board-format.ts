import { boardSides, circuitIds, pointKinds, readInput } from '@umbral/core';
import * as yup from 'yup';
import { ExpectedError } from '../record/errors.ts';
import { orNull, text } from '../record/input.ts';
import { modelKey, place } from '../record/board-input.ts';

export const boardFormat = 'umbral-board/1';
/** Of a picture in a file, as it stands there. Characters. */
const mostPicture = 3_000_000;

const share = yup.number().min(0).max(8).required();

/** A model's map as a file: sides with their points and pictures, and what good boards read. */
export const boardFile = yup.object({
  format: yup
    .string()
    .oneOf([boardFormat], `format: expected ${boardFormat}`)
    .required(`format: expected ${boardFormat}`),
  model: modelKey,
  sides: yup
    .array()
    .of(
      yup.object({
        revision: text('revision', 60),
        side: yup.string().oneOf(boardSides).required(),
        part: text('part', 60),
        height: yup.number().positive().max(8).required(),
        points: yup
          .array()
          .of(
            yup.object({
              x: yup.number().min(0).max(1).required(),
              y: share,
              kind: yup.string().oneOf(pointKinds).required(),
              name: text('name', 120),
              net: text('net', 200).required(),
              circuit: orNull(circuitIds, 'circuit'),
            }),
          )
          .max(5000)
          .required(),
        pictures: yup
          .array()
          .of(
            yup.object({
              caption: text('caption', 200),
              pairs: yup
                .array()
                .of(yup.object({ from: place, to: place }).required())
                .max(4)
                .required(),
              /** JPEG, base64. */
              jpeg: yup.string().max(mostPicture, 'jpeg: larger than a picture of a map is').required(),
            }),
          )
          .max(12)
          .default([]),
      }),
    )
    .max(40)
    .required(),
  good: yup
    .array()
    .of(
      yup.object({
        where: text('where', 200).required(),
        mode: yup.string().oneOf(['voltage', 'diode', 'resistance']).required(),
        phase: orNull(['before', 'after', 'plugged'] as const, 'phase'),
        redProbe: orNull(['ground', 'point'] as const, 'redProbe'),
        value: yup.number().nullable().defined(),
        ol: yup.boolean().strict().required(),
      }),
    )
    .max(20_000)
    .default([]),
});

/** Points of all sides together: a side of a phone has a few hundred. */
const mostPoints = 20_000;

/**
 * Reads a map from the text of a file.
 *
 * @throws {ExpectedError} for what is no map, with the place and what was expected
 */
export function boardOf(content: string): BoardFile {
  let value: unknown;
  try {
    value = JSON.parse(content);
  } catch (error) {
    throw new ExpectedError('input', `The map is no JSON: ${(error as Error).message}. Nothing was saved.`);
  }
  if (typeof value !== 'object' || value === null)
    throw new ExpectedError('input', `format: expected ${boardFormat}. Nothing was saved.`);
  const sides = (value as { sides?: unknown }).sides;
  const points = (Array.isArray(sides) ? sides : []).reduce<number>(
    (sum, side: { points?: unknown } | null) => sum + (Array.isArray(side?.points) ? side.points.length : 0),
    0,
  );
  if (points > mostPoints)
    throw new ExpectedError('input', `sides: ${points} points; expected at most ${mostPoints}. Nothing was saved.`);
  return readInput(boardFile, value, { stripUnknown: true });
}

export type BoardFile = yup.InferType<typeof boardFile>;
