'use client';

import { outcomeGrades } from '@umbral/core/words';
import { useState } from 'react';
import { gradeWords } from '@/features/words';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { closeJob } from './actions';
import { CircuitSelect, FormFoot } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

/** Closes the job with what it turned out to be. Every grade is a result. */
export function OutcomeDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const [form, setForm] = useState({
    grade: 'measured',
    circuit: view.verdict?.suspects[0]?.id ?? '',
    target: '',
    fix: '',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<typeof form>): void => setForm({ ...form, ...change });
  const confirmed = form.grade === 'measured' || form.grade === 'cleared';
  return (
    <Dialog open title={`Close job ${view.job.number}`} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const circuit = confirmed ? form.circuit : '';
          save(() => closeJob({ ...form, circuit, jobId: view.job.id, version: view.job.version }), {
            done: 'Closed and kept in the atlas.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <Field label="Outcome">
          <select className="field" value={form.grade} onChange={(e) => set({ grade: e.target.value })}>
            {outcomeGrades.map((g) => (
              <option key={g} value={g}>
                {gradeWords[g]}
              </option>
            ))}
          </select>
        </Field>
        {confirmed && (
          <CircuitSelect
            label="Confirmed circuit"
            value={form.circuit}
            onChange={(circuit) => set({ circuit })}
            withNone
          />
        )}
        {confirmed && (
          <Field label="Part" hint="rail, part or joint">
            <input className="field" value={form.target} onChange={(e) => set({ target: e.target.value })} />
          </Field>
        )}
        <Field label={confirmed ? 'What cured it' : 'What is known'}>
          <textarea className="field min-h-20" value={form.fix} onChange={(e) => set({ fix: e.target.value })} />
        </Field>
        {form.grade === 'disappeared' && (
          <p className="text-sm text-muted">
            A fault that went away unexplained is not repaired: let it soak and set a date to look again.
          </p>
        )}
        <FormFoot saving={saving} problem={problem} word="Close the job" />
      </form>
    </Dialog>
  );
}
