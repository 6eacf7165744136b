'use client';

import { railStates } from '@umbral/core/words';
import { useRef, useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field, Hazard } from '@/ui/parts';
import { addReading } from './actions';
import { CircuitSelect, FollowsSelect, FormFoot } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

/** Readings one after the other by keyboard: value, Enter, next. */
export function ReadingDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const blank = { where: '', value: '', reference: '' };
  const [form, setForm] = useState({
    ...blank,
    mode: 'voltage',
    circuit: '',
    state: '',
    prompted: '',
    redProbe: 'ground',
    across: false,
    after: view.actions.at(-1)?.key ?? null,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const [saved, setSaved] = useState(0);
  const { saving, save } = useSave();
  const where = useRef<HTMLInputElement>(null);
  const set = (change: Partial<typeof form>): void => {
    setForm({ ...form, ...change });
    setProblem(null);
  };
  const submit = (): void =>
    save(
      () =>
        addReading({
          ...form,
          across: form.across && form.mode === 'resistance',
          jobId: view.job.id,
          prompted: form.prompted === '' ? null : form.prompted === 'yes',
        }),
      {
        failed: setProblem,
        then: () => {
          setForm({ ...form, ...blank });
          setSaved(saved + 1);
          where.current?.focus();
        },
      },
    );
  return (
    <Dialog open title="Enter readings" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        {form.mode !== 'voltage' && (
          <Hazard>
            Disconnect the battery and every source before measuring{' '}
            {form.mode === 'diode' ? 'in diode mode' : 'resistance'}.
          </Hazard>
        )}
        <div className="grid grid-cols-2 gap-3">
          <Field label="Where" hint="rail, net or part">
            <input
              ref={where}
              autoFocus
              className="field"
              value={form.where}
              onChange={(e) => set({ where: e.target.value })}
            />
          </Field>
          <Field label="Mode">
            <select className="field" value={form.mode} onChange={(e) => set({ mode: e.target.value })}>
              <option value="voltage">voltage</option>
              <option value="diode">diode mode</option>
              <option value="resistance">resistance</option>
            </select>
          </Field>
          <Field label="Value" hint="with or without unit, or OL">
            <input
              className="field"
              value={form.value}
              placeholder={form.mode === 'resistance' ? '12 ohm' : '0.41'}
              onChange={(e) => set({ value: e.target.value })}
            />
          </Field>
          <Field label="Good board reads">
            <input className="field" value={form.reference} onChange={(e) => set({ reference: e.target.value })} />
          </Field>
          <CircuitSelect label="Circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          {form.mode === 'voltage' ? (
            <>
              <Field label="Rail of state">
                <select className="field" value={form.state} onChange={(e) => set({ state: e.target.value })}>
                  <option value="">not stated</option>
                  {railStates.map((s) => (
                    <option key={s}>{s}</option>
                  ))}
                </select>
              </Field>
              <Field label="Power pressed?">
                <select className="field" value={form.prompted} onChange={(e) => set({ prompted: e.target.value })}>
                  <option value="">not stated</option>
                  <option value="yes">yes</option>
                  <option value="no">no</option>
                </select>
              </Field>
            </>
          ) : (
            <>
              <Field label="Red probe at">
                <select className="field" value={form.redProbe} onChange={(e) => set({ redProbe: e.target.value })}>
                  <option value="ground">ground</option>
                  <option value="point">the point</option>
                </select>
              </Field>
              {form.mode === 'resistance' && (
                <label className="flex min-h-11 items-center gap-2 self-end text-sm">
                  <input type="checkbox" checked={form.across} onChange={(e) => set({ across: e.target.checked })} />
                  across a part that should conduct (fuse, coil, link)
                </label>
              )}
            </>
          )}
          <FollowsSelect actions={view.actions} value={form.after} onChange={(after) => set({ after })} />
        </div>
        <FormFoot saving={saving} problem={problem} word="Save, next reading" />
        {saved > 0 && (
          <p role="status" className="text-sm text-muted">
            {saved === 1 ? 'One reading saved.' : `${saved} readings saved.`} Escape closes.
          </p>
        )}
      </form>
    </Dialog>
  );
}
