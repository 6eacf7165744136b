'use server';

import * as yup from 'yup';
import { changed } from '@/features/action';
import { addCamera, saveFraming } from '@/server/edges/recorder/cameras';
import type { Result } from '@/server/record/errors';

const nameInput = yup.object({
  name: yup
    .string()
    .trim()
    .max(120, 'Name: at most 120 characters')
    .required('Name: enter which instrument the camera reads'),
});

/** Adds an instrument whose display a camera reads; gives its key. */
export async function addCameraInstrument(raw: unknown): Promise<Result<string>> {
  return changed('technician', async () => addCamera((await nameInput.validate(raw)).name));
}

const framingInput = yup.object({ key: yup.string().max(120).required(), framing: yup.mixed().required() });

/** Keeps how a display is framed, for the next time. */
export async function keepFraming(raw: unknown): Promise<Result<void>> {
  return changed('technician', async () => {
    const { key, framing } = await framingInput.validate(raw);
    await saveFraming(key, framing);
  });
}
