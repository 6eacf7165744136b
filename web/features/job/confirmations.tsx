'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import { confirmJobOtherwise, withdrawConfirmation } from './confirmation-actions';
import { CircuitSelect, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Who confirmed what; two that disagree teach nothing until one of them is withdrawn. */
export function Confirmations({ view }: { view: JobView }) {
  const { confirmations, job } = view;
  const [isOpen, setOpen] = useState(false);
  const { saving, save } = useSave();
  const circuits = new Set(confirmations.map((c) => c.circuitId));
  return (
    <div className="card py-2 text-sm">
      <h3 className="font-semibold">Confirmed</h3>
      {circuits.size > 1 && (
        <Hazard>
          Confirmed as {circuits.size} different causes. Until one is withdrawn, nothing is learned from this job.
        </Hazard>
      )}
      {confirmations.length === 0 && <p className="text-muted">Not confirmed yet. Nothing is learned from this job.</p>}
      <ul className="grid gap-1">
        {confirmations.map((c) => (
          <li key={c.id} className="flex flex-wrap items-center justify-between gap-x-2">
            <span>
              <strong>{c.circuit}</strong>
              {c.target && `, ${c.target}`}
              <span className="block text-muted">
                {[c.grade, c.who, c.on, c.why].filter((x) => x !== '').join(' · ')}
              </span>
            </span>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() =>
                save(() => withdrawConfirmation({ jobId: job.id, id: c.id }), {
                  done: 'Withdrawn. What was learned from it was removed.',
                })
              }
            >
              Withdraw
            </button>
          </li>
        ))}
      </ul>
      <button type="button" className="button mt-1.5 min-h-9" onClick={() => setOpen(true)}>
        Confirm this or another cause
      </button>
      {isOpen && <ConfirmDialog jobId={job.id} onClose={() => setOpen(false)} />}
    </div>
  );
}

function ConfirmDialog({ jobId, onClose }: { jobId: number; onClose: () => void }) {
  const [form, setForm] = useState({ circuit: '', target: '', grade: 'measured', why: '' });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title="Confirmed cause" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => confirmJobOtherwise({ jobId, ...form }), {
            done: 'Confirmed.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <CircuitSelect
          label="Circuit"
          withNone
          value={form.circuit}
          onChange={(circuit) => setForm({ ...form, circuit })}
        />
        <TextField label="Part" value={form.target} onValue={(value) => setForm({ ...form, target: value })} />
        <SelectField label="Certainty" value={form.grade} onValue={(value) => setForm({ ...form, grade: value })}>
          <option value="measured">cause measured and repaired</option>
          <option value="cleared">fixed, cause not measured</option>
        </SelectField>
        <TextField label="Evidence" value={form.why} onValue={(value) => setForm({ ...form, why: value })} />
        <FormFoot saving={saving} problem={problem} word="Confirm" />
      </form>
    </Dialog>
  );
}
