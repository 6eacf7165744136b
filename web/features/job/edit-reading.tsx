'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { editReading } from './actions';
import { Asks, FormFoot } from './form-parts';
import { useSave } from './use-save';

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
    <Dialog open title={`Correct the reading at “${reading.where}”`} onClose={onClose}>
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
          <Field label="Where">
            <input autoFocus className="field" value={where} onChange={(e) => setWhere(e.target.value)} />
          </Field>
          <Field label="Value" hint="OL, >1k, no beep, 0.8~1.2">
            <input
              className="field"
              value={text}
              onChange={(e) => {
                setText(e.target.value);
                setAsks([]);
              }}
            />
          </Field>
        </div>
        <Asks of={asks} />
        <FormFoot saving={saving} problem={problem} word={asks.length > 0 ? 'Keep it so' : 'Save'} />
      </form>
    </Dialog>
  );
}
