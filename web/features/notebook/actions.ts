'use server';

import * as yup from 'yup';
import { changed } from '@/features/changed';
import type { Result } from '@/server/errors';
import { keepNote, noteInput, renameModel, setNoteTaken } from '@/server/library/notebook';
import { resultFor } from '@/server/people/access';
import { lookUpNotebook } from './queries';
import type { LineView } from './view';

const id = yup.number().integer().positive().required();

/** What the notebook has on a number, at once. */
export async function lookUp(asked: unknown): Promise<Result<LineView[]>> {
  return resultFor('technician', () => lookUpNotebook(yup.string().max(2000).default('').validateSync(asked)));
}

export async function saveNote(raw: unknown): Promise<Result<number>> {
  return changed('technician', () => keepNote(noteInput.validateSync(raw, { abortEarly: false })));
}

export async function takeNote(note: unknown, isTaken: unknown): Promise<Result<void>> {
  return changed('technician', () =>
    setNoteTaken(id.validateSync(note), yup.boolean().required().validateSync(isTaken)),
  );
}

const renameInput = yup.object({
  from: yup.string().max(120).required(),
  to: yup.string().trim().max(120, 'Model: at most 120 characters').required('Model: type the new name'),
});

/** Another name for a model, everywhere it stands. */
export async function renameModelTo(raw: unknown): Promise<Result<number>> {
  return changed('lead', () => {
    const { from, to } = renameInput.validateSync(raw);
    return renameModel(from, to);
  });
}
