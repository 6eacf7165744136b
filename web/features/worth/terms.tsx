'use client';

import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobWorth } from '@/server/work/day/worth';
import { keepTerms } from './actions';
import { TextField } from '@/ui/kit/fields';

/** A moment as a field for a day and a time has it, on this screen's clock. */
function fieldMoment(iso: string | null): string {
  if (iso === null) return '';
  const at = new Date(iso);
  return new Date(at.getTime() - at.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
}

/** What was agreed: the fee, the promise, and whether it is only the data that is wanted. */
export function Terms({ worth }: { worth: JobWorth }) {
  const [fee, setFee] = useState(worth.isOwnFee ? String(worth.fee) : '');
  const [promised, setPromised] = useState(() => fieldMoment(worth.promisedAt));
  const [dataOnly, setDataOnly] = useState(worth.dataOnly);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <form
      aria-label="Terms"
      className="card grid gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        const typed = fee.trim().replace(',', '.');
        save(
          () =>
            keepTerms({
              jobId: worth.jobId,
              version: worth.version,
              fee: typed === '' ? null : typed,
              promisedAt: promised === '' ? null : new Date(promised).toISOString(),
              dataOnly,
            }),
          { done: 'Saved.', failed: setProblem, then: () => setProblem(null) },
        );
      }}
    >
      <h2 className="text-lg">Terms</h2>
      <div className="grid gap-2 sm:grid-cols-2">
        <TextField
          label="Fee"
          hint="€"
          inputMode="decimal"
          value={fee}
          placeholder={String(worth.fee)}
          onValue={setFee}
        />
        <TextField label="Promised for" type="datetime-local" value={promised} onValue={setPromised} />
      </div>
      <label className="flex min-h-9 items-center gap-2">
        <input type="checkbox" checked={dataOnly} onChange={(e) => setDataOnly(e.target.checked)} /> Only the data is
        needed now
      </label>
      <FormFoot saving={saving} problem={problem} />
    </form>
  );
}
