'use client';

import { depths } from '@umbral/core/words';
import { useState } from 'react';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { Worker } from '@/server/work/day/workers';
import { Dialog } from '@/ui/dialog';
import { keepWorker } from './actions';
import { days, sayDay, weekFrom } from './week';
import { WeekFields } from './week-fields';
import { SelectField } from '@/ui/kit/fields';

const never = ({ hours }: Worker): boolean => hours !== null && hours.week.every((spans) => spans.length === 0);

/** People at the bench, when, and how far they open a device: the run sheet plans with them. */
export function Workers({ workers }: { workers: readonly Worker[] }) {
  const [open, setOpen] = useState<Worker | null>(null);
  return (
    <section aria-label="People at the bench" className="card mt-3.5">
      <h2 className="text-lg">People at the bench</h2>
      <ul className="mt-1 grid grid-cols-[minmax(0,1fr)] gap-1 lg:grid-cols-2 lg:gap-x-8">
        {workers.map((w) => (
          <li key={w.id} className="flex flex-wrap items-center gap-2 border-b border-line py-1 last:border-0">
            <span className="min-w-0 flex-1 truncate font-semibold">{w.name}</span>
            <span className="text-sm text-muted">
              {never(w)
                ? 'never at the bench'
                : `${w.hours === null ? 'shop hours' : 'own hours'} · up to: ${depths[w.maxDepth].name}`}
            </span>
            <button type="button" className="button min-h-9" aria-label={`Change ${w.name}`} onClick={() => setOpen(w)}>
              Change
            </button>
          </li>
        ))}
      </ul>
      {open && <WorkerDialog worker={open} onClose={() => setOpen(null)} />}
    </section>
  );
}

function WorkerDialog({ worker, onClose }: { worker: Worker; onClose: () => void }) {
  const [maxDepth, setDepth] = useState(worker.maxDepth);
  const [kind, setKind] = useState<'shop' | 'own' | 'never'>(
    worker.hours === null ? 'shop' : never(worker) ? 'never' : 'own',
  );
  const [week, setWeek] = useState(worker.hours?.week.map(sayDay) ?? days.map(() => ''));
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const submit = (): void => {
    let own: [string, string][][] | null;
    try {
      own = kind === 'shop' ? null : kind === 'never' ? days.map(() => []) : weekFrom(week);
    } catch (error) {
      return setProblem((error as Error).message);
    }
    save(() => keepWorker({ id: worker.id, maxDepth, week: own }), {
      done: 'Saved.',
      then: onClose,
      failed: setProblem,
    });
  };
  return (
    <Dialog open title={worker.name} onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <SelectField label="Opens devices up to" value={maxDepth} onValue={(value) => setDepth(Number(value))}>
          {depths.map(({ name }, k) => (
            <option key={name} value={k}>
              {name}
            </option>
          ))}
        </SelectField>
        <SelectField label="At the bench" value={kind} onValue={(value) => setKind(value as typeof kind)}>
          <option value="shop">during shop hours</option>
          <option value="own">during their own hours</option>
          <option value="never">never</option>
        </SelectField>
        {kind === 'own' && <WeekFields week={week} placeholder="not here" onChange={setWeek} />}
        <FormFoot saving={saving} problem={problem} />
      </form>
    </Dialog>
  );
}
