'use client';

import { CircuitOptions, ClassOptions } from '@/features/choices';
import { circuitNames } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import { classWords, jobNumber } from '@/features/words';
import type { DonorView } from '@/server/work/day/donors';
import { Dialog } from '@/ui/dialog';
import { keepDonor } from './actions';
import { SelectField, TextField } from '@/ui/kit/fields';

/** Boards that parts are taken from, with what is still on them. */
export function Donors({ donors }: { donors: DonorView[] }) {
  const [isOpen, setOpen] = useState(false);
  return (
    <section aria-label="Donor boards" className="card mt-3.5">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-lg">Donor boards</h2>
        <button type="button" className="button ml-auto min-h-9" onClick={() => setOpen(true)}>
          New donor board
        </button>
      </div>
      {donors.length === 0 && (
        <p className="text-muted">None yet. A board that was not repaired may have parts for another one.</p>
      )}
      <ul className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-2 lg:grid-cols-2">
        {donors.map((d) => (
          <li key={d.id} className="rounded-xl border border-line px-3 py-2">
            <p className="font-bold">
              {d.label}{' '}
              <span className="font-normal text-muted">
                {[classWords[d.deviceClass], d.model, d.shelf].filter(Boolean).join(' · ')}
              </span>
            </p>
            <ul>
              {d.parts.map((p) => (
                <li key={p.id} className={p.isTaken ? 'text-muted line-through' : ''}>
                  {p.what} {p.number}
                  {p.suffix} <span className="text-muted">{circuitNames[p.circuit]}</span>
                  {p.takenFor !== null && (
                    <Link href={`/jobs/${p.takenFor}`} className="ml-2">
                      {jobNumber(p.takenFor)}
                    </Link>
                  )}
                </li>
              ))}
            </ul>
          </li>
        ))}
      </ul>
      {isOpen && <DonorDialog onClose={() => setOpen(false)} />}
    </section>
  );
}

const noPart = { what: '', number: '', suffix: '', circuit: '' };

function DonorDialog({ onClose }: { onClose: () => void }) {
  const [form, setForm] = useState({ label: '', deviceClass: 'phone', model: '', shelf: '' });
  const [parts, setParts] = useState([noPart]);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const set = (k: number, change: Partial<typeof noPart>): void =>
    setParts(parts.map((p, i) => (i === k ? { ...p, ...change } : p)));
  return (
    <Dialog open wide title="New donor board" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          // A line in which nothing was typed is no part.
          const typed = parts.filter((p) => [p.what, p.number, p.suffix, p.circuit].some((x) => x !== ''));
          save(() => keepDonor({ ...form, parts: typed }), { done: 'Saved.', then: onClose, failed: setProblem });
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <TextField label="Board" value={form.label} onValue={(value) => setForm({ ...form, label: value })} />
          <SelectField
            label="Kind of device"
            value={form.deviceClass}
            onValue={(value) => setForm({ ...form, deviceClass: value })}
          >
            <ClassOptions />
          </SelectField>
          <TextField label="Model" value={form.model} onValue={(value) => setForm({ ...form, model: value })} />
          <TextField label="Shelf" value={form.shelf} onValue={(value) => setForm({ ...form, shelf: value })} />
        </div>
        <fieldset className="grid gap-2">
          <legend className="font-semibold">Parts still on it</legend>
          {parts.map((p, k) => (
            <div key={k} className="grid gap-2 sm:grid-cols-[1.3fr_1fr_70px_1.2fr]">
              <input
                className="field"
                aria-label={`Part ${k + 1}`}
                placeholder="part"
                value={p.what}
                onChange={(e) => set(k, { what: e.target.value })}
              />
              <input
                className="field"
                aria-label={`Number ${k + 1}`}
                placeholder="number"
                value={p.number}
                onChange={(e) => set(k, { number: e.target.value })}
              />
              <input
                className="field"
                aria-label={`Suffix ${k + 1}`}
                placeholder="suffix"
                value={p.suffix}
                onChange={(e) => set(k, { suffix: e.target.value })}
              />
              <select
                className="field"
                aria-label={`Circuit ${k + 1}`}
                value={p.circuit}
                onChange={(e) => set(k, { circuit: e.target.value })}
              >
                <option value="">circuit</option>
                <CircuitOptions />
              </select>
            </div>
          ))}
          <button
            type="button"
            className="button min-h-9 justify-self-start"
            onClick={() => setParts([...parts, noPart])}
          >
            Add a part
          </button>
        </fieldset>
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
