'use client';

import { ClassOptions } from '@/features/choices';
import { complaintKinds, emptyIntake, remarksIn } from '@umbral/core/words';
import { useState } from 'react';
import { complaintWords } from '@/features/words';
import { Hazard } from '@/ui/parts';
import { FormFoot } from '@/ui/kit/form-parts';
import { HeardRemarks } from './heard-remarks';
import { blankKnown, KnownFields, type KnownValues } from './known-fields';
import { AreaField, SelectField, TextField } from '@/ui/kit/fields';

export interface IntakeValues {
  label: string;
  deviceClass: string;
  model: string;
  serial: string;
  complaint: string;
  complaintKind: string;
  known: KnownValues;
  technician: string;
  dueOn: string;
  intake: {
    liquid: boolean;
    dropped: boolean;
    priorRepair: boolean;
    batterySwollen: boolean;
    batteryIsolated: boolean;
    dataWanted: boolean;
    notes: string;
    heard?: readonly string[];
  };
}

export const blankIntake: IntakeValues = {
  label: '',
  deviceClass: '',
  model: '',
  serial: '',
  complaint: '',
  complaintKind: '',
  known: blankKnown,
  technician: '',
  dueOn: '',
  intake: emptyIntake,
};

const flags = [
  ['batterySwollen', 'Battery swollen, punctured or hot'],
  ['liquid', 'Liquid damage'],
  ['dropped', 'Dropped'],
  ['priorRepair', 'Repaired or opened before'],
  ['dataWanted', 'Data is needed'],
] as const;

/** Intake: hazards first, then the device and the customer's words. What was typed survives a failed save. */
export function IntakeForm({
  start,
  saving,
  problem,
  word,
  onSave,
}: {
  start: IntakeValues;
  saving: boolean;
  problem: string | null;
  word: string;
  onSave: (values: IntakeValues) => void;
}) {
  const [form, setForm] = useState(start);
  // What is read out of the words counts unless somebody takes it back.
  const found = remarksIn(form).map((r) => r.id);
  const [refused, setRefused] = useState<readonly string[]>(() =>
    start.intake.heard ? found.filter((id) => !start.intake.heard?.includes(id)) : [],
  );
  const set = (change: Partial<IntakeValues>): void => setForm({ ...form, ...change });
  const setIntake = (change: Partial<IntakeValues['intake']>): void => set({ intake: { ...form.intake, ...change } });
  return (
    <form
      className="mt-3 grid gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        onSave({ ...form, intake: { ...form.intake, heard: found.filter((id) => !refused.includes(id)) } });
      }}
    >
      <fieldset>
        <legend className="text-sm font-semibold">Hazards and history first</legend>
        <div className="mt-1 flex flex-wrap gap-2">
          {flags.map(([key, words]) => (
            <label key={key} className={`button font-medium ${form.intake[key] ? 'border-decide bg-decide-soft' : ''}`}>
              <input
                type="checkbox"
                className="size-4 accent-(--decide)"
                checked={form.intake[key]}
                onChange={(e) => setIntake({ [key]: e.target.checked })}
              />
              {words}
            </label>
          ))}
        </div>
      </fieldset>
      {form.intake.batterySwollen && (
        <>
          {!form.intake.batteryIsolated && (
            <Hazard>Stop. Do not charge it or press on it. Move it to a fire-safe place before anything else.</Hazard>
          )}
          <label className="flex min-h-9 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-4 accent-(--decide)"
              checked={form.intake.batteryIsolated}
              onChange={(e) => setIntake({ batteryIsolated: e.target.checked })}
            />
            The battery was removed and stored safely. Work continues without it
          </label>
        </>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <TextField
          label="Device"
          hint="as you would call it at the bench"
          autoFocus
          required
          maxLength={200}
          value={form.label}
          placeholder="lending tablet, blue case"
          onValue={(value) => set({ label: value })}
        />
        <SelectField
          label="Kind of device"
          required
          value={form.deviceClass}
          onValue={(value) => set({ deviceClass: value })}
        >
          <option value="">choose</option>
          <ClassOptions />
        </SelectField>
        <TextField label="Model" maxLength={200} value={form.model} onValue={(value) => set({ model: value })} />
        <TextField
          label="Serial or tag"
          maxLength={200}
          value={form.serial}
          onValue={(value) => set({ serial: value })}
        />
        <TextField
          label="Complaint in the customer’s words"
          maxLength={2000}
          value={form.complaint}
          placeholder="Stays black since Tuesday"
          onValue={(value) => set({ complaint: value })}
        />
        <SelectField
          label="Type of complaint"
          value={form.complaintKind}
          onValue={(value) => set({ complaintKind: value })}
        >
          <option value="">not stated</option>
          {complaintKinds.map((c) => (
            <option key={c} value={c}>
              {complaintWords[c]}
            </option>
          ))}
        </SelectField>
        <HeardRemarks found={found} refused={refused} onRefused={setRefused} />
        <TextField
          label="Technician"
          maxLength={100}
          value={form.technician}
          onValue={(value) => set({ technician: value })}
        />
        <TextField label="Due" type="date" value={form.dueOn} onValue={(value) => set({ dueOn: value })} />
      </div>
      <KnownFields known={form.known} onChange={(known) => set({ known })} />
      <AreaField
        label="Notes"
        hint="what was already tried or replaced; only the customer data this job needs"
        className="min-h-16"
        maxLength={4000}
        value={form.intake.notes}
        onValue={(value) => setIntake({ notes: value })}
      />
      <FormFoot saving={saving} problem={problem} word={word} />
    </form>
  );
}
