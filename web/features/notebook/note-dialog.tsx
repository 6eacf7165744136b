'use client';

import { ClassOptions } from '@/features/choices';
import { feeds } from '@umbral/core/words';
import { useState } from 'react';
import { CircuitSelect, FormFoot } from '@/features/job/form-parts';
import { useSave } from '@/features/job/use-save';
import { feedWords } from '@/features/words';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { saveNote, takeNote } from './actions';
import type { NoteForm } from './queries';

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
    <Dialog open title={note.id === null ? 'A line for the notebook' : 'Correct this line'} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => saveNote({ ...form, feed: form.feed || null }), {
            done: 'In the notebook.',
            then: onClose,
            failed: setProblem,
          });
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <Field label="Model">
            <input
              className="field"
              list="notebook-models"
              value={form.model}
              onChange={(e) => set({ model: e.target.value })}
            />
          </Field>
          <Field label="Kind of device">
            <select className="field" value={form.deviceClass} onChange={(e) => set({ deviceClass: e.target.value })}>
              <ClassOptions />
            </select>
          </Field>
        </div>
        <datalist id="notebook-models">
          {models.map((m) => (
            <option key={m} value={m} />
          ))}
        </datalist>
        <div className="grid gap-3 sm:grid-cols-3">
          <Field label="Level" hint="such as 0.18 A">
            <input className="field" value={form.amps} onChange={(e) => set({ amps: e.target.value })} />
          </Field>
          <Field label="Voltage" hint="such as 18 V">
            <input className="field" value={form.volts} onChange={(e) => set({ volts: e.target.value })} />
          </Field>
          <Field label="Feed">
            <select className="field" value={form.feed} onChange={(e) => set({ feed: e.target.value })}>
              <option value="">not said</option>
              {feeds.map((f) => (
                <option key={f} value={f}>
                  {feedWords[f]}
                </option>
              ))}
            </select>
          </Field>
        </div>
        <Field label="Setup" hint="everything but one run rail up">
          <input className="field" value={form.setup} onChange={(e) => set({ setup: e.target.value })} />
        </Field>
        <div className="grid gap-3 sm:grid-cols-2">
          <CircuitSelect label="Was" withNone value={form.circuit} onChange={(circuit) => set({ circuit })} />
          <Field label="Part">
            <input className="field" value={form.element} onChange={(e) => set({ element: e.target.value })} />
          </Field>
        </div>
        <div className="grid grid-cols-2 gap-3">
          <Field label="It was that">
            <input
              className="field"
              inputMode="numeric"
              value={form.hits}
              onChange={(e) => set({ hits: e.target.value })}
            />
          </Field>
          <Field label="of how many">
            <input
              className="field"
              inputMode="numeric"
              value={form.of}
              onChange={(e) => set({ of: e.target.value })}
            />
          </Field>
        </div>
        <FormFoot saving={saving} problem={problem} word="Keep the line" />
        {note.id !== null && (
          <button
            type="button"
            className="button justify-self-start"
            disabled={saving}
            onClick={() => {
              const id = note.id ?? 0;
              save(() => takeNote(id, true), {
                done: 'Taken out of the notebook.',
                undo: () => void takeNote(id, false),
                then: onClose,
                failed: setProblem,
              });
            }}
          >
            Take it out
          </button>
        )}
      </form>
    </Dialog>
  );
}
