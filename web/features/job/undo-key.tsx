'use client';

import { useSave } from '@/ui/kit/use-save';
import { useKey } from '@/ui/keys';
import { undo } from './actions';

/** Backspace undoes what this person entered or changed last in the job, step by step. */
export function UndoKey({ jobId }: { jobId: number }) {
  const { save } = useSave();
  useKey('Backspace', 'undo your last step in this job', () =>
    save(() => undo({ jobId }), {
      done: ({ what }) => `Undone: ${what}.`,
      undo: ({ step }) => save(() => undo({ jobId, step })),
    }),
  );
  return null;
}
