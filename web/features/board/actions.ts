'use server';

import * as yup from 'yup';
import { action, question } from '@/features/action';
import {
  hottestPlace,
  keepMark,
  keepPoint,
  layPicture,
  mergeNets,
  setNet,
  setOffMap,
  setRevision,
  straighten,
} from '@/server/work/boards/boards';
import {
  layInput,
  markInput,
  mergeInput,
  pointInput,
  removeInput,
  revisionInput,
  straightenInput,
} from '@/server/record/board-input';
import { id } from '@/server/record/input';

const undoMergeInput = yup.object({
  points: yup.array().of(yup.number().integer().positive().required()).max(2000).required(),
  net: yup.string().max(200).required(),
});

export const savePoint = action('technician', pointInput, keepPoint);
export const saveMark = action('technician', markInput, keepMark);
export const laySaved = action('technician', layInput, layPicture);
export const straightenSide = action('technician', straightenInput, straighten);
export const mergeTwoNets = action('technician', mergeInput, mergeNets);
export const undoMerge = action('technician', undoMergeInput, ({ points, net }) => setNet(points, net));
export const setOff = action('technician', removeInput, setOffMap);
export const findHottest = question('technician', yup.object({ pictureId: id }), ({ pictureId }) =>
  hottestPlace(pictureId),
);
export const chooseRevision = action('technician', revisionInput, ({ jobId, revision }) =>
  setRevision(jobId, revision),
);
