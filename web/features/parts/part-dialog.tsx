'use client';

import { CircuitOptions, ClassOptions } from '@/features/choices';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { PartView } from '@/server/work/day/parts';
import { Dialog } from '@/ui/dialog';
import { keepPart } from './actions';
import { SelectField, TextField } from '@/ui/kit/fields';

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
    supplier: part?.supplier ?? '',
    shelf: part?.shelf ?? '',
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const text = (
    key: 'name' | 'number' | 'suffix' | 'fits' | 'model' | 'minimum' | 'cost' | 'supplier' | 'shelf',
    label: string,
    hint?: string,
  ) => (
    <TextField label={label} hint={hint} value={form[key]} onValue={(value) => setForm({ ...form, [key]: value })} />
  );
  return (
    <Dialog open title={part ? 'Edit part' : 'New part'} onClose={onClose}>
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
            { done: 'Saved.', then: onClose, failed: setProblem },
          );
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          {text('name', 'Name')}
          <SelectField label="Circuit" value={form.circuit} onValue={(value) => setForm({ ...form, circuit: value })}>
            <option value="">choose</option>
            <CircuitOptions />
          </SelectField>
          {text('number', 'Number', 'without the suffix')}
          {text('suffix', 'Suffix')}
          {text('fits', 'Replaces suffixes', 'separated by commas')}
          {text('shelf', 'Shelf')}
          <SelectField
            label="For"
            value={form.deviceClass}
            onValue={(value) => setForm({ ...form, deviceClass: value as typeof form.deviceClass })}
          >
            <option value="">any device</option>
            <ClassOptions />
          </SelectField>
          {text('model', 'Model', 'empty: any model')}
          {text('minimum', 'Minimum')}
          {text('cost', 'Price', '€ each')}
          {text('supplier', 'Supplier')}
        </div>
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
