'use client';

import { CircuitOptions, ClassOptions } from '@/features/choices';
import { useState } from 'react';
import { FormFoot } from '@/features/job/form-parts';
import { useSave } from '@/features/job/use-save';
import type { PartView } from '@/server/day/parts';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { keepPart } from './actions';

/** A kind of part, new or to be changed. */
export function PartDialog({ part, onClose }: { part: PartView | null; onClose: () => void }) {
  const [form, setForm] = useState({
    name: part?.name ?? '',
    number: part?.number ?? '',
    suffix: part?.suffix ?? '',
    fits: part?.fits.join(', ') ?? '',
    deviceClass: part?.deviceClass ?? '',
    model: part?.model ?? '',
    circuit: part?.circuit ?? '',
    minimum: String(part?.minimum ?? 0),
    cost: String(part?.cost ?? 0),
    shelf: part?.shelf ?? '',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const text = (
    key: 'name' | 'number' | 'suffix' | 'fits' | 'model' | 'minimum' | 'cost' | 'shelf',
    label: string,
    hint?: string,
  ) => (
    <Field label={label} hint={hint}>
      <input className="field" value={form[key]} onChange={(e) => setForm({ ...form, [key]: e.target.value })} />
    </Field>
  );
  return (
    <Dialog open title={part ? 'Change the part' : 'New part'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(
            () =>
              keepPart({
                ...form,
                id: part?.id ?? null,
                version: part?.version ?? 0,
                deviceClass: form.deviceClass || null,
                cost: form.cost.trim().replace(',', '.'),
                fits: form.fits
                  .split(',')
                  .map((x) => x.trim())
                  .filter(Boolean),
              }),
            { done: 'On the list.', then: onClose, failed: setProblem },
          );
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          {text('name', 'Name')}
          <Field label="Circuit">
            <select
              className="field"
              value={form.circuit}
              onChange={(e) => setForm({ ...form, circuit: e.target.value })}
            >
              <option value="">choose</option>
              <CircuitOptions />
            </select>
          </Field>
          {text('number', 'Number', 'without the suffix')}
          {text('suffix', 'Suffix')}
          {text('fits', 'Stands in for suffixes', 'commas between')}
          {text('shelf', 'Shelf')}
          <Field label="For">
            <select
              className="field"
              value={form.deviceClass}
              onChange={(e) => setForm({ ...form, deviceClass: e.target.value as typeof form.deviceClass })}
            >
              <option value="">any device</option>
              <ClassOptions />
            </select>
          </Field>
          {text('model', 'Model', 'empty: any')}
          {text('minimum', 'Minimum')}
          {text('cost', 'Cost', '€')}
        </div>
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
