import { boardSides, circuitIds, markKinds, pointKinds } from '@umbral/core';
import * as yup from 'yup';
import { id, orNull, text } from './input.ts';

const tallest = 8;
/** Widths of the board. */
const across = yup.number().min(0, 'Point: outside the board').max(1, 'Point: outside the board').required();
const down = yup.number().min(0, 'Point: outside the board').max(tallest, 'Point: outside the board').required();
/** Corners may lie a little outside what a picture shows. */
export const place = yup
  .array()
  .of(
    yup
      .number()
      .min(-1, 'Place: far outside the picture')
      .max(tallest + 1, 'Place: far outside the picture')
      .required(),
  )
  .length(2)
  .required();

export const modelKey = text('Model', 200).required('Model: enter it in the intake first, so others can use this map');

/** Where a picture is put: a side that is there, or a new one. */
export const pictureInput = yup.object({
  model: modelKey,
  jobId: id.nullable().optional().default(null),
  sideId: id.nullable().optional().default(null),
  side: yup.string().oneOf(boardSides, 'Side: expected front or back').default('front'),
  part: text('Part', 60),
  revision: text('Revision', 60),
  kind: yup.string().oneOf(['photo', 'heat']).default('photo'),
  caption: text('Caption', 200),
});

export const layInput = yup.object({
  pictureId: id,
  pairs: yup
    .array()
    .of(yup.object({ from: place, to: place }).required())
    .max(4, 'Points: expected 2 to 4 shared points')
    .required(),
});

export const straightenInput = yup.object({ pictureId: id, corners: yup.array().of(place).length(4).required() });

export const pointInput = yup.object({
  /** Null for a new one. */
  id: id.nullable().optional().default(null),
  sideId: id,
  x: across,
  y: down,
  kind: yup.string().oneOf(pointKinds, 'Kind: choose one').required('Kind: choose one'),
  name: text('Name', 120),
  net: text('Net', 200).required('Net: enter the rail or net, so that its points share readings'),
  circuit: orNull(circuitIds, 'Circuit'),
});

export const removeInput = yup.object({
  of: yup.string().oneOf(['side', 'picture', 'point', 'mark']).required(),
  id,
  removed: yup.boolean().required(),
});

export const mergeInput = yup.object({
  sideId: id,
  from: text('Net', 200).required('Net: choose one'),
  into: text('Net', 200).required('Net: choose one'),
});

export const markInput = yup.object({
  jobId: id,
  sideId: id,
  kind: yup.string().oneOf(markKinds, 'What it is: choose one').required('What it is: choose one'),
  area: yup
    .array()
    .of(yup.array().of(yup.number().min(0).max(tallest).required()).length(2).required())
    .min(3, 'Area: expected at least three corners')
    .max(40, 'Area: expected at most 40 corners')
    .required(),
  where: text('Where', 200),
  circuit: orNull(circuitIds, 'Circuit'),
  /** For heat: what was fed meanwhile. */
  fed: text('Fed', 120),
});

export const revisionInput = yup.object({ jobId: id, revision: text('Revision', 60) });
