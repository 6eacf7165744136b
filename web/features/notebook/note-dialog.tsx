'use client';

import { ClassOptions } from '@/features/choices';
import { feeds } from '@umbral/core/words';
import { useState } from 'react';
import { CircuitSelect, FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { feedWords } from '@/features/words';
import { Dialog } from '@/ui/dialog';
import { saveNote, saveNotebookLine } from './actions';
import type { NoteForm } from './queries';
import { SelectField, TextField } from '@/ui/kit/fields';

export const emptyNote: NoteForm = {
  id: null,
  model: '',
  deviceClass: 'phone',
  feed: '',
  amps: '',
  volts: '',
  setup: '',
  circuit: '',
  element: '',
  hits: '1',
  of: '1',
};

/** A line of the notebook typed by hand, or corrected. */
export function NoteDialog({
  note,
  models,
  onClose,
}: {
  note: NoteForm;
  models: readonly string[];
  onClose: () => void;
}) {
  const [form, setForm] = useState(note);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (over: Partial<NoteForm>): void => setForm({ ...form, ...over });
  return (
    <Dialog open title={note.id === null ? 'New notebook line' : 'Edit this line'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => saveNote({ ...form, feed: form.feed || null }), {
            done: 'Saved in the notebook.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField
            label="Model"
            list="notebook-models"
            value={form.model}
            onValue={(value) => set({ model: value })}
          />
          <SelectField label="Kind of device" value={form.deviceClass} onValue={(value) => set({ deviceClass: value })}>
            <ClassOptions />
          </SelectField>
        </div>
        <datalist id="notebook-models">
          {models.map((m) => (
            <option key={m} value={m} />
          ))}
        </datalist>
        <div className="grid gap-3 sm:grid-cols-3">
          <TextField label="Level" hint="such as 0.18 A" value={form.amps} onValue={(value) => set({ amps: value })} />
          <TextField
            label="Voltage"
            hint="such as 18 V"
            value={form.volts}
            onValue={(value) => set({ volts: value })}
          />
          <SelectField label="Feed" value={form.feed} onValue={(value) => set({ feed: value })}>
            <option value="">not stated</option>
            {feeds.map((f) => (
              <option key={f} value={f}>
                {feedWords[f]}
              </option>
            ))}
          </SelectField>
        </div>
        <TextField
          label="Setup"
          hint="everything up except one run rail"
          value={form.setup}
          onValue={(value) => set({ setup: value })}
        />
        <div className="grid gap-3 sm:grid-cols-2">
          <CircuitSelect label="Circuit" withNone value={form.circuit} onChange={(circuit) => set({ circuit })} />
          <TextField label="Part" value={form.element} onValue={(value) => set({ element: value })} />
        </div>
        <div className="grid grid-cols-2 gap-3">
          <TextField
            label="Times confirmed"
            inputMode="numeric"
            value={form.hits}
            onValue={(value) => set({ hits: value })}
          />
          <TextField label="Times seen" inputMode="numeric" value={form.of} onValue={(value) => set({ of: value })} />
        </div>
        <FormFoot saving={saving} problem={problem} word="Save line" />
        {note.id !== null && (
          <button
            type="button"
            className="button justify-self-start"
            disabled={saving}
            onClick={() => {
              const id = note.id ?? 0;
              save(() => saveNotebookLine(id, true), {
                done: 'Deleted from the notebook.',
                undo: () => void saveNotebookLine(id, false),
                then: onClose,
                failed: setProblem,
              });
            }}
          >
            Delete
          </button>
        )}
      </form>
    </Dialog>
  );
}
