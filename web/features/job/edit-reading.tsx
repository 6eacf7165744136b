'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { editReading } from './actions';
import { Asks, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { TextField } from '@/ui/kit/fields';

/** Corrects what was measured and where; what stood there before stays in the audit trail. */
export function EditReading({
  jobId,
  reading,
  onClose,
}: {
  jobId: number;
  reading: { id: number; where: string; text: string };
  onClose: () => void;
}) {
  const [where, setWhere] = useState(reading.where);
  const [text, setText] = useState(reading.text);
  const [problem, setProblem] = useState<string | null>(null);
  const [asks, setAsks] = useState<string[]>([]);
  const { saving, save } = useSave();
  return (
    <Dialog open title={`Edit the reading at “${reading.where}”`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => editReading({ jobId, readingId: reading.id, where, text, confirmed: asks.length > 0 }), {
            then: (taken) => (taken.kept ? onClose() : setAsks(taken.asks)),
            failed: setProblem,
          });
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField label="Where" autoFocus value={where} onValue={setWhere} />
          <TextField
            label="Value"
            hint="OL, >1k, no beep, 0.8~1.2"
            value={text}
            onValue={(value) => {
              setText(value);
              setAsks([]);
            }}
          />
        </div>
        <Asks of={asks} />
        <FormFoot saving={saving} problem={problem} word={asks.length > 0 ? 'Save anyway' : 'Save'} />
      </form>
    </Dialog>
  );
}
