'use client';

import { useState } from 'react';
import { Dialog } from '@/ui/dialog';
import { Field } from '@/ui/parts';
import { setWait } from './actions';
import { FormFoot } from './form-parts';
import { useSave } from './use-save';
import type { JobView } from './view';

const usual: [string, number][] = [
  ['cooling down', 0.5],
  ['drying after the bath', 12],
  ['charge soak', 3],
  ['overnight drain test', 14],
  ['parts on order', 72],
  ['the customer’s answer', 24],
];

/** Sets a job aside until something ends; it comes back by itself. */
export function WaitDialog({ view, onClose }: { view: JobView; onClose: () => void }) {
  // As it was when this was opened: what others save meanwhile is shown anew, and must not be overwritten unseen.
  const [version] = useState(view.job.version);
  const [waitingFor, setFor] = useState(usual[1][0]);
  const [hours, setHours] = useState('12');
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  return (
    <Dialog open title="Let it wait" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          const time = Number(hours.replace(',', '.'));
          if (hours.trim() !== '' && !(time >= 0)) return setProblem(`Hours: "${hours}" is not a number`);
          save(
            () =>
              setWait({
                jobId: view.job.id,
                version,
                waitingFor,
                hours: hours.trim() === '' ? null : time,
              }),
            { done: 'Set aside.', then: onClose, failed: setProblem },
          );
        }}
      >
        <div className="flex flex-wrap gap-2">
          {usual.map(([words, h]) => (
            <button
              key={words}
              type="button"
              className="chip min-h-9 bg-raised hover:border-edge"
              onClick={() => {
                setFor(words);
                setHours(String(h));
              }}
            >
              {words}
            </button>
          ))}
        </div>
        <Field label="Waits for">
          <input className="field" value={waitingFor} onChange={(e) => setFor(e.target.value)} required />
        </Field>
        <Field label="Hours" hint="empty: until you say so">
          <input className="field" inputMode="decimal" value={hours} onChange={(e) => setHours(e.target.value)} />
        </Field>
        <FormFoot saving={saving} problem={problem} word="Set aside" />
      </form>
    </Dialog>
  );
}
