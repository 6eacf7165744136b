'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { editReading } from './actions';
import { Asks, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { ReadingMode } from '@umbral/core/words';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Corrects what was measured and where; what stood there before stays in the audit trail. */
export function EditReading({
  jobId,
  reading,
  onClose,
}: {
  jobId: number;
  reading: { id: number; where: string; text: string; mode: ReadingMode };
  onClose: () => void;
}) {
  const [where, setWhere] = useState(reading.where);
  const [text, setText] = useState(reading.text);
  const [mode, setMode] = useState<string>(reading.mode);
  const [problem, setProblem] = useState<string | null>(null);
  const [asks, setAsks] = useState<string[]>([]);
  const { saving, save } = useSave();
  return (
    <Dialog open title={`Edit the reading at “${reading.where}”`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => editReading({ jobId, readingId: reading.id, where, text, mode, confirmed: asks.length > 0 }), {
            then: (taken) => (taken.kept ? onClose() : setAsks(taken.asks)),
            failed: setProblem,
          });
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField label="Where" autoFocus list="elements" value={where} onValue={setWhere} />
          <SelectField label="Mode" value={mode} onValue={setMode}>
            <option value="voltage">voltage</option>
            <option value="diode">diode mode</option>
            <option value="resistance">resistance</option>
          </SelectField>
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
