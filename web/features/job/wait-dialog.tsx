'use client';

import { waitKinds, waitTypes, type WaitKind, sayMinutes } from '@umbral/core/words';
import { useState } from 'react';
import { setWait } from '@/features/waits/actions';
import { useUsualWaits } from '@/features/waits/use-usual-waits';
import { minutesOf } from '@/features/waits/wait-length';
import { Dialog } from '@/ui/dialog';
import { FormFoot } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView } from './view';
import { TextField } from '@/ui/kit/fields';

/** Sets a job aside until something ends; it comes back by itself, with an alarm. */
export function WaitDialog({ view, onClose }: { view: Pick<JobView, 'job'>; onClose: () => void }) {
  const usual = useUsualWaits();
  const [kind, setKind] = useState<WaitKind>('dry');
  const [words, setWords] = useState('');
  // Until somebody types a time, the usual one of the kind stands there.
  const [typed, setTyped] = useState<string | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const time = typed ?? (usual ? sayMinutes(usual[kind]) : '');
  const submit = (): void => {
    let minutes: number | null;
    try {
      minutes = minutesOf(time);
    } catch (error) {
      return setProblem((error as Error).message);
    }
    save(() => setWait({ jobId: view.job.id, kind, words, minutes }), {
      done: 'Wait started.',
      then: onClose,
      failed: setProblem,
    });
  };
  return (
    <Dialog open title="Add a wait" onClose={onClose}>
      <form
        className="mt-3 grid gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          submit();
        }}
      >
        <div role="group" aria-label="Waiting for" className="flex flex-wrap gap-2">
          {waitKinds.map((id) => (
            <button
              key={id}
              type="button"
              aria-pressed={id === kind}
              className="button min-h-9 font-medium"
              onClick={() => {
                setKind(id);
                setTyped(null);
              }}
            >
              {waitTypes[id].name}
            </button>
          ))}
        </div>
        <TextField
          label="Description"
          hint={`empty: ${waitTypes[kind].doing}`}
          value={words}
          maxLength={200}
          onValue={setWords}
        />
        <TextField
          label="How long"
          hint="10 min, 4 h, 2 days; empty: until you end it"
          value={time}
          onValue={setTyped}
        />
        <p className="text-sm text-muted">Afterwards: {waitTypes[kind].then}</p>
        <FormFoot saving={saving} problem={problem} word="Start the wait" />
      </form>
    </Dialog>
  );
}
