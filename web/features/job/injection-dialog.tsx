'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field, Hazard } from '@/ui/parts';
import { addInjection } from './actions';
import { CircuitSelect, ElementNames, FollowsSelect, FormFoot } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

const heats = {
  '': 'nobody looked',
  'one-spot': 'one spot',
  'several-spots': 'several spots',
  uniform: 'a part, evenly',
  'leads-only': 'only leads or plug',
  none: 'nothing',
} as const;

/** A voltage that was put on a rail from any supply, typed: what flowed, what warmed, what a good board took. */
export function InjectionDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  const [form, setForm] = useState({
    rail: '',
    circuit: '',
    setV: '',
    limitA: '',
    amps: '',
    leadsOhm: '',
    referenceA: '',
    heat: '',
    hot: '',
    hotCircuit: '',
    note: '',
    after: undefined as string | null | undefined,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<typeof form>): void => {
    setForm({ ...form, ...change });
    setProblem(null);
  };
  const text = (label: string, key: 'setV' | 'limitA' | 'amps' | 'leadsOhm' | 'referenceA', placeholder: string) => (
    <Field label={label}>
      <input
        className="field"
        placeholder={placeholder}
        value={form[key]}
        onChange={(e) => set({ [key]: e.target.value })}
      />
    </Field>
  );
  const warmed = form.heat === 'one-spot' || form.heat === 'several-spots' || form.heat === 'uniform';
  return (
    <Dialog open={!saving} title="Enter what was fed" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const at = warmed ? {} : { hot: '', hotCircuit: '' };
          save(() => addInjection({ ...form, ...at, jobId: view.job.id }), {
            entry: `${form.setV} on ${form.rail}`,
            done: 'Kept; the suspects follow.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <Hazard>Never above what the rail is made for; battery out, limit set before the output goes on.</Hazard>
        <div className="grid grid-cols-2 gap-3">
          <Field label="Rail" hint="what was fed">
            <input
              autoFocus
              className="field"
              list="elements"
              value={form.rail}
              onChange={(e) => set({ rail: e.target.value })}
            />
          </Field>
          <CircuitSelect label="Its circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          {text('Volts', 'setV', '1 V')}
          {text('Limit', 'limitA', '2 A')}
          {text('Amperes', 'amps', '1.3 A')}
          {text('Leads', 'leadsOhm', '0.2 ohm')}
          {text('Good board takes', 'referenceA', '20 mA')}
          <Field label="What warmed">
            <select className="field" value={form.heat} onChange={(e) => set({ heat: e.target.value })}>
              {Object.entries(heats).map(([id, words]) => (
                <option key={id} value={id}>
                  {words}
                </option>
              ))}
            </select>
          </Field>
          {warmed && (
            <>
              <Field label="Where it warmed" hint="the last place down the tree">
                <input
                  className="field"
                  list="elements"
                  value={form.hot}
                  onChange={(e) => set({ hot: e.target.value })}
                />
              </Field>
              <CircuitSelect
                label="Circuit of what warmed"
                value={form.hotCircuit}
                onChange={(hotCircuit) => set({ hotCircuit })}
              />
            </>
          )}
          <Field label="Note">
            <input className="field" value={form.note} onChange={(e) => set({ note: e.target.value })} />
          </Field>
          <FollowsSelect actions={view.actions} value={form.after} onChange={(after) => set({ after })} />
        </div>
        <ElementNames names={view.elements} />
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
