'use client';

import { ClassOptions } from '@/features/choices';
import { circuitNames, deviceClasses, usualFunctions, type DeviceClass } from '@umbral/core/words';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { KeptPolicy } from '@/server/work/shop/policy';
import { keepPolicy } from './actions';
import { AreaField, SelectField, TextField } from '@/ui/kit/fields';

const refusable = Object.entries(circuitNames).filter(([id]) => id !== 'none' && id !== 'unmodelled');

/** What goes by itself, and when. */
const ages = [
  ['trashDays', 'Empty the trash after', 'days; empty: only by hand'],
  ['sampleMonths', 'Delete recorded samples after', 'months from closing; empty: never'],
  ['auditYears', 'Delete the activity log after', 'years; empty: never'],
] as const;

/** By what the advice to stop is reckoned, what is not repaired here, and how a voltage is put on a short. */
export function ShopPolicyForm({ policy }: { policy: KeptPolicy }) {
  const [form, setForm] = useState({
    name: policy.name,
    contact: policy.contact,
    fee: String(policy.fee),
    dataFee: String(policy.dataFee),
    hourlyCost: String(policy.hourlyCost),
    success: String(Math.round(100 * policy.success)),
    notDoneHere: [...policy.notDoneHere] as string[],
    injection: policy.injection as string,
    networks: policy.networks.join('\n'),
    trashDays: String(policy.trashDays ?? ''),
    sampleMonths: String(policy.sampleMonths ?? ''),
    auditYears: String(policy.auditYears ?? ''),
  });
  const [kind, setKind] = useState<DeviceClass>('phone');
  const [functions, setFunctions] = useState<Partial<Record<DeviceClass, string>>>({});
  const linesOf = (of: DeviceClass): string => functions[of] ?? (policy.functions?.[of] ?? []).join('\n');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const text = (key: 'fee' | 'dataFee' | 'hourlyCost' | 'success', label: string, hint?: string) => (
    <TextField
      label={label}
      hint={hint}
      inputMode="decimal"
      value={form[key]}
      onValue={(value) => setForm({ ...form, [key]: value })}
    />
  );
  return (
    <form
      aria-label="Shop policy"
      className="card grid gap-3"
      onSubmit={(e) => {
        e.preventDefault();
        const lists = Object.fromEntries(
          deviceClasses.map((of) => [
            of,
            linesOf(of)
              .split('\n')
              .map((line) => line.trim())
              .filter(Boolean),
          ]),
        );
        const networks = form.networks
          .split('\n')
          .map((line) => line.trim())
          .filter(Boolean);
        save(
          () =>
            keepPolicy({
              ...form,
              networks,
              ...Object.fromEntries(ages.map(([key]) => [key, form[key].trim() || null])),
              functions: lists,
              version: policy.version,
            }),
          {
            done: 'Saved. It applies to new verdicts. Existing verdicts do not change.',
            failed: setProblem,
            then: () => setProblem(null),
          },
        );
      }}
    >
      <h2 className="text-lg">Shop policy</h2>
      <TextField
        label="Name of the shop"
        hint="on reports for customers"
        value={form.name}
        onValue={(value) => setForm({ ...form, name: value })}
      />
      <AreaField
        label="Contact"
        hint="address, phone or e-mail, on reports for customers"
        className="min-h-16"
        value={form.contact}
        onValue={(value) => setForm({ ...form, contact: value })}
      />
      <div className="grid grid-cols-2 gap-3">
        {text('fee', 'Repair fee')}
        {text('dataFee', 'Data recovery fee')}
        {text('hourlyCost', 'Cost per hour')}
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
      <SelectField
        label="Injection voltage"
        value={form.injection}
        onValue={(value) => setForm({ ...form, injection: value })}
      >
        <option value="step">start low, step up</option>
        <option value="rated">rated voltage, current limited</option>
      </SelectField>
      <fieldset className="grid gap-2 text-sm">
        <legend className="font-semibold">Functions to test after a repair, one per line</legend>
        <SelectField label="Kind of device" value={kind} onValue={(value) => setKind(value as DeviceClass)}>
          <ClassOptions />
        </SelectField>
        <AreaField
          label="Functions"
          hint="empty: the usual ones, shown in grey"
          className="min-h-36"
          placeholder={usualFunctions(kind).join('\n')}
          value={linesOf(kind)}
          onValue={(value) => setFunctions({ ...functions, [kind]: value })}
        />
        <button
          type="button"
          className="button min-h-9 justify-self-start"
          onClick={() => setFunctions({ ...functions, [kind]: usualFunctions(kind).join('\n') })}
        >
          Start from the usual ones
        </button>
      </fieldset>
      <AreaField
        label="Instrument networks"
        hint="one per line; this computer is always allowed"
        className="min-h-16"
        placeholder="10.20.30.0/24"
        value={form.networks}
        onValue={(value) => setForm({ ...form, networks: value })}
      />
      {ages.map(([key, label, hint]) => (
        <TextField
          key={key}
          label={label}
          hint={hint}
          inputMode="numeric"
          value={form[key]}
          onValue={(value) => setForm({ ...form, [key]: value })}
        />
      ))}
      <FormFoot saving={saving} problem={problem} />
    </form>
  );
}
