'use server';

import { action, question, changed } from '@/features/action';
import { deviceClasses } from '@umbral/core';
import * as yup from 'yup';
import type { Result } from '@/server/record/errors';
import { keepNote, noteInput, renameModel, setNoteTaken } from '@/server/work/library/notebook';
import { lookUpNotebook } from './queries';

const id = yup.number().integer().positive().required();

const lookUpInput = yup.object({
  line: yup.string().max(2000).default(''),
  deviceClass: yup.string().oneOf(deviceClasses).nullable().default(null),
});

/** What the notebook has on a number, at once. */
export const lookUp = question('technician', lookUpInput, ({ line, deviceClass }) => lookUpNotebook(line, deviceClass));

export const saveNote = action('technician', noteInput, keepNote);

export async function saveNotebookLine(note: unknown, isTaken: unknown): Promise<Result<void>> {
  return changed('technician', () =>
    setNoteTaken(id.validateSync(note), yup.boolean().required().validateSync(isTaken)),
  );
}

const renameInput = yup.object({
  from: yup.string().max(120).required(),
  to: yup.string().trim().max(120, 'Model: at most 120 characters').required('Model: enter the new name'),
});

/** Another name for a model, everywhere it stands. */
export const renameModelTo = action('lead', renameInput, ({ from, to }) => renameModel(from, to));
