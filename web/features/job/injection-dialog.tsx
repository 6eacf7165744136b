'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Hazard } from '@/ui/parts';
import { addInjection, editInjection } from './actions';
import { blankInjection, type InjectionForm } from './entry-forms';
import { CircuitSelect, ElementNames, FollowsSelect, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { SelectField, TextField } from '@/ui/kit/fields';

const heats = {
  '': 'not checked',
  'one-spot': 'one spot',
  'several-spots': 'several spots',
  uniform: 'a whole part, evenly',
  'leads-only': 'only the leads or the plug',
  none: 'nothing',
} as const;

/** A voltage that was put on a rail from any supply, typed: what flowed, what warmed, what a good board took. */
export function InjectionDialog({
  view,
  edit = null,
  onClose,
}: {
  view: Pick<JobView, 'elements' | 'actions'> & { job: { id: number } };
  /** The entry that is corrected; null for a new one. */
  edit?: { id: number; values: InjectionForm } | null;
  onClose: () => void;
}) {
  const [form, setForm] = useState({
    ...(edit?.values ?? blankInjection),
    after: undefined as string | null | undefined,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (change: Partial<typeof form>): void => {
    setForm({ ...form, ...change });
    setProblem(null);
  };
  const text = (label: string, key: 'setV' | 'limitA' | 'amps' | 'leadsOhm' | 'referenceA', placeholder: string) => (
    <TextField label={label} placeholder={placeholder} value={form[key]} onValue={(value) => set({ [key]: value })} />
  );
  const warmed = form.heat === 'one-spot' || form.heat === 'several-spots' || form.heat === 'uniform';
  return (
    <Dialog open={!saving} title={edit ? 'Correct the injection' : 'Add an injection'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const at = warmed ? {} : { hot: '', hotCircuit: '' };
          const entry = { ...form, ...at, jobId: view.job.id };
          if (edit)
            return save(() => editInjection({ ...entry, entryId: edit.id }), {
              done: 'Corrected. The suspects are updated.',
              then: onClose,
              failed: setProblem,
            });
          save(() => addInjection(entry), {
            entry: `${form.setV} on ${form.rail}`,
            done: 'Saved. The suspects are updated.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <Hazard>
          Never above the rated voltage of the rail. Battery out. Set the limit before the output goes on.
        </Hazard>
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Rail"
            hint="where you injected"
            autoFocus
            list="elements"
            value={form.rail}
            onValue={(value) => set({ rail: value })}
          />
          <CircuitSelect label="Circuit" value={form.circuit} onChange={(circuit) => set({ circuit })} />
          {text('Volts', 'setV', '1 V')}
          {text('Limit', 'limitA', '2 A')}
          {text('Amperes', 'amps', '1.3 A')}
          {text('Leads', 'leadsOhm', '0.2 ohm')}
          {text('Known-good board draws', 'referenceA', '20 mA')}
          <SelectField label="What got warm" value={form.heat} onValue={(value) => set({ heat: value })}>
            {Object.entries(heats).map(([id, words]) => (
              <option key={id} value={id}>
                {words}
              </option>
            ))}
          </SelectField>
          {warmed && (
            <>
              <TextField
                label="Where it got warm"
                hint="the last warm place down the tree"
                list="elements"
                value={form.hot}
                onValue={(value) => set({ hot: value })}
              />
              <CircuitSelect
                label="Circuit of the warm part"
                value={form.hotCircuit}
                onChange={(hotCircuit) => set({ hotCircuit })}
              />
            </>
          )}
          <TextField label="Note" value={form.note} onValue={(value) => set({ note: value })} />
          {!edit && <FollowsSelect actions={view.actions} value={form.after} onChange={(after) => set({ after })} />}
        </div>
        <ElementNames names={view.elements} />
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
