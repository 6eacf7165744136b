'use client';

import { circuitNames } from '@umbral/core/words';
import { useState } from 'react';
import { FormFoot } from '@/features/job/form-parts';
import { useSave } from '@/features/job/use-save';
import type { KeptPolicy } from '@/server/policy';
import { Field } from '@/ui/parts';
import { keepPolicy } from './actions';

const refusable = Object.entries(circuitNames).filter(([id]) => id !== 'none' && id !== 'unmodelled');

/** By what the advice to stop is reckoned, what is not repaired here, and how a voltage is put on a short. */
export function ShopPolicyForm({ policy }: { policy: KeptPolicy }) {
  const [form, setForm] = useState({
    fee: String(policy.fee),
    dataFee: String(policy.dataFee),
    hourlyCost: String(policy.hourlyCost),
    success: String(Math.round(100 * policy.success)),
    notDoneHere: [...policy.notDoneHere] as string[],
    injection: policy.injection as string,
  });
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const text = (key: 'fee' | 'dataFee' | 'hourlyCost' | 'success', label: string, hint?: string) => (
    <Field label={label} hint={hint}>
      <input
        className="field"
        inputMode="decimal"
        value={form[key]}
        onChange={(e) => setForm({ ...form, [key]: e.target.value })}
      />
    </Field>
  );
  return (
    <form
      aria-label="Shop policy"
      className="card grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        save(() => keepPolicy({ ...form, version: policy.version }), {
          done: 'Kept. New calls follow it; those that are there stand as they were made.',
          failed: setProblem,
          then: () => setProblem(null),
        });
      }}
    >
      <h2 className="text-lg">Shop policy</h2>
      <div className="grid grid-cols-2 gap-3">
        {text('fee', 'Fee of a repair')}
        {text('dataFee', 'Besides, for data')}
        {text('hourlyCost', 'Cost of an hour')}
        {text('success', 'Repairs that succeed', '%')}
      </div>
      <fieldset className="text-sm">
        <legend className="font-semibold">Not repaired here</legend>
        <div className="mt-1 grid max-h-44 grid-cols-2 gap-x-3 overflow-y-auto rounded-lg border border-line p-2">
          {refusable.map(([id, name]) => (
            <label key={id} className="flex min-h-8 items-center gap-2">
              <input
                type="checkbox"
                checked={form.notDoneHere.includes(id)}
                onChange={(e) =>
                  setForm({
                    ...form,
                    notDoneHere: e.target.checked
                      ? [...form.notDoneHere, id]
                      : form.notDoneHere.filter((x) => x !== id),
                  })
                }
              />
              {name}
            </label>
          ))}
        </div>
      </fieldset>
      <Field label="Voltage on a short">
        <select
          className="field"
          value={form.injection}
          onChange={(e) => setForm({ ...form, injection: e.target.value })}
        >
          <option value="step">low first, up in steps</option>
          <option value="rated">rated voltage at once, limited</option>
        </select>
      </Field>
      <FormFoot saving={saving} problem={problem} />
    </form>
  );
}
