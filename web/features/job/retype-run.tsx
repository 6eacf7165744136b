'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { AreaField } from '@/ui/kit/fields';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { retypeRun } from './actions';

/** Corrects the line of a run that was typed. */
export function RetypeRun({
  jobId,
  id,
  line,
  onClose,
}: {
  jobId: number;
  id: number;
  line: string;
  onClose: () => void;
}) {
  const [text, setText] = useState(line);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title="Correct the run" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save((confirmed) => retypeRun({ jobId, entryId: id, line: text, confirmed }), {
            done: (key) => `Corrected. It is run ${key} now.`,
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <AreaField label="Readings" className="min-h-20 font-mono" autoFocus value={text} onValue={setText} />
        <FormFoot saving={saving} problem={problem} word="Save the correction" />
      </form>
    </Dialog>
  );
}
