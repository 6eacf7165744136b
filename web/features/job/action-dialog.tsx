'use client';

import { actionKinds } from '@umbral/core/words';
import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field, Hazard } from '@/ui/parts';
import { addAction } from './actions';
import { CircuitSelect, FormFoot } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

/** Enters one change made to the device. One at a time, with a run before and a run after. */
export function ActionDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const last = view.runs.at(-1)?.key ?? '';
  const [form, setForm] = useState({ kind: 'disconnect', circuit: '', target: '', note: '', runBefore: last });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<typeof form>): void => setForm({ ...form, ...change });
  const burns = form.kind === 'burn';
  const irreversible = burns || form.kind === 'reload-firmware';
  return (
    <Dialog open title="Enter a change made" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => addAction({ ...form, jobId: view.job.id, runBefore: form.runBefore || null }), {
            done: 'Noted. Record a run now, in the same setup, so that it counts.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        {burns && (
          <Hazard>
            Burning a short open can burst parts, leave a leak and hurt inner layers: eye protection, battery out, limit
            set, hand on the off key.
          </Hazard>
        )}
        {form.kind === 'reload-firmware' && (
          <Hazard>Dump the old content twice and compare before overwriting it; keep the file.</Hazard>
        )}
        {(form.kind === 'reflow' || form.kind === 'remove' || form.kind === 'replace') && (
          <Hazard>Hot air and irons burn and fume: extraction on, battery out.</Hazard>
        )}
        <div className="grid grid-cols-2 gap-3">
          <Field label="What was done">
            <select className="field" value={form.kind} onChange={(e) => set({ kind: e.target.value })}>
              {actionKinds.map((k) => (
                <option key={k} value={k}>
                  {k.replaceAll('-', ' ')}
                </option>
              ))}
            </select>
          </Field>
          <CircuitSelect label="Circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          <Field label="Part" hint="full number with suffix">
            <input className="field" value={form.target} onChange={(e) => set({ target: e.target.value })} />
          </Field>
          <Field label="State before shown by">
            <select className="field" value={form.runBefore} onChange={(e) => set({ runBefore: e.target.value })}>
              <option value="">no run</option>
              {view.runs.map((r) => (
                <option key={r.key} value={r.key}>
                  {r.title}
                </option>
              ))}
            </select>
          </Field>
        </div>
        <Field label="Note" hint="say so if it is a donor part or a reworked joint">
          <input className="field" value={form.note} onChange={(e) => set({ note: e.target.value })} />
        </Field>
        {irreversible && (
          <p className="text-sm text-muted">This cannot be undone: is the data wanted, and does the customer agree?</p>
        )}
        {view.runs.length === 0 && (
          <p className="text-sm text-decide">
            There is no run of the state before. It cannot be had later: record one first if you can.
          </p>
        )}
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
