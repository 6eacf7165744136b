'use client';

import { ClassOptions } from '@/features/choices';
import { complaintKinds, emptyIntake } from '@umbral/core/words';
import { useState } from 'react';
import { complaintWords } from '@/features/words';
import { Field, Hazard } from '@/ui/parts';
import { FormFoot } from './form-parts';
import { blankKnown, KnownFields, type KnownValues } from './known-fields';

export interface IntakeValues {
  label: string;
  deviceClass: string;
  model: string;
  serial: string;
  complaint: string;
  complaintKind: string;
  known: KnownValues;
  technician: string;
  dueAt: string;
  intake: {
    liquid: boolean;
    dropped: boolean;
    priorRepair: boolean;
    batterySwollen: boolean;
    batteryIsolated: boolean;
    dataWanted: boolean;
    notes: string;
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
  dueAt: '',
  intake: emptyIntake,
};

const flags = [
  ['batterySwollen', 'Battery swollen, punctured or hot'],
  ['liquid', 'Liquid got in'],
  ['dropped', 'Dropped'],
  ['priorRepair', 'Repaired or opened before'],
  ['dataWanted', 'The data is wanted'],
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
  const set = (change: Partial<IntakeValues>): void => setForm({ ...form, ...change });
  const setIntake = (change: Partial<IntakeValues['intake']>): void => set({ intake: { ...form.intake, ...change } });
  return (
    <form
      className="mt-3 grid gap-4"
      onSubmit={(e) => {
        e.preventDefault();
        onSave(form);
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
            <Hazard>
              Stop: do not charge it, do not press on it. Isolate it in a fire-safe place before anything else.
            </Hazard>
          )}
          <label className="flex min-h-9 items-center gap-2 text-sm">
            <input
              type="checkbox"
              className="size-4 accent-(--decide)"
              checked={form.intake.batteryIsolated}
              onChange={(e) => setIntake({ batteryIsolated: e.target.checked })}
            />
            The pack has been taken out and put away: the work goes on without it
          </label>
        </>
      )}
      <div className="grid gap-3 sm:grid-cols-2">
        <Field label="Device" hint="as you would say it at the bench">
          <input
            autoFocus
            className="field"
            required
            maxLength={200}
            value={form.label}
            placeholder="lending tablet, blue case"
            onChange={(e) => set({ label: e.target.value })}
          />
        </Field>
        <Field label="Kind of device">
          <select
            className="field"
            required
            value={form.deviceClass}
            onChange={(e) => set({ deviceClass: e.target.value })}
          >
            <option value="">choose</option>
            <ClassOptions />
          </select>
        </Field>
        <Field label="Model">
          <input
            className="field"
            maxLength={200}
            value={form.model}
            onChange={(e) => set({ model: e.target.value })}
          />
        </Field>
        <Field label="Serial or tag">
          <input
            className="field"
            maxLength={200}
            value={form.serial}
            onChange={(e) => set({ serial: e.target.value })}
          />
        </Field>
        <Field label="In the customer’s words">
          <input
            className="field"
            maxLength={2000}
            value={form.complaint}
            placeholder="Stays black since Tuesday"
            onChange={(e) => set({ complaint: e.target.value })}
          />
        </Field>
        <Field label="That is, it">
          <select className="field" value={form.complaintKind} onChange={(e) => set({ complaintKind: e.target.value })}>
            <option value="">not said</option>
            {complaintKinds.map((c) => (
              <option key={c} value={c}>
                {complaintWords[c]}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Technician">
          <input
            className="field"
            maxLength={100}
            value={form.technician}
            onChange={(e) => set({ technician: e.target.value })}
          />
        </Field>
        <Field label="Due">
          <input type="date" className="field" value={form.dueAt} onChange={(e) => set({ dueAt: e.target.value })} />
        </Field>
      </div>
      <KnownFields known={form.known} onChange={(known) => set({ known })} />
      <Field label="Notes" hint="what was already tried or replaced; no customer data beyond what the job needs">
        <textarea
          className="field min-h-16"
          maxLength={4000}
          value={form.intake.notes}
          onChange={(e) => setIntake({ notes: e.target.value })}
        />
      </Field>
      <FormFoot saving={saving} problem={problem} word={word} />
    </form>
  );
}
