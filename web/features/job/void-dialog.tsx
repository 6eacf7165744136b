'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { TextField } from '@/ui/kit/fields';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { setVoid, undo } from './actions';
import type { EntryView } from './story-view';

const reasons = ['bad plug', 'wrong device', 'already running', 'wrong setting'];

/** Marks an entry as void: it stays in the record, counts for nothing, and stands in no report for a customer. */
export function VoidDialog({
  of,
  title,
  onClose,
}: {
  of: { jobId: number; table: EntryView['table']; entryId: number };
  title: string;
  onClose: () => void;
}) {
  const [why, setWhy] = useState('');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title={`Void: ${title}`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (why.trim() === '') return setProblem('Reason: enter why it does not count.');
          save(() => setVoid({ ...of, why }), {
            done: ({ says }) => says,
            undo: ({ step }) => save(() => undo({ jobId: of.jobId, step })),
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <p className="text-sm text-muted">It stays in the record and counts for nothing.</p>
        <TextField label="Reason" list="void-reasons" autoFocus value={why} onValue={setWhy} />
        <datalist id="void-reasons">
          {reasons.map((r) => (
            <option key={r} value={r} />
          ))}
        </datalist>
        <FormFoot saving={saving} problem={problem} word="Mark as void" />
      </form>
    </Dialog>
  );
}
