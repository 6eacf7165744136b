'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { TextField } from '@/ui/kit/fields';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { setTime, undo } from './actions';
import type { EntryView } from './story-view';

const two = (n: number): string => String(n).padStart(2, '0');

/** A moment as a field for date and time has it: local, to the minute. */
const asField = (at: Date): string =>
  `${at.getFullYear()}-${two(at.getMonth() + 1)}-${two(at.getDate())}T${two(at.getHours())}:${two(at.getMinutes())}`;

/** Says when an entry was done. */
export function TimeDialog({
  of,
  title,
  at,
  onClose,
}: {
  of: { jobId: number; table: EntryView['table']; entryId: number };
  title: string;
  /** ISO 8601. */
  at: string;
  onClose: () => void;
}) {
  const [when, setWhen] = useState(() => asField(new Date(at)));
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title={`When was it done? ${title}`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const moment = new Date(when);
          if (Number.isNaN(moment.getTime())) return setProblem('Time: enter a date and a time.');
          save(() => setTime({ ...of, at: moment.toISOString() }), {
            done: 'The time was set.',
            undo: (step) => save(() => undo({ jobId: of.jobId, step })),
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <TextField label="Time" type="datetime-local" autoFocus value={when} onValue={setWhen} />
        <FormFoot saving={saving} problem={problem} word="Set the time" />
      </form>
    </Dialog>
  );
}
