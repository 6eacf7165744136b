'use client';

import { CheckCircle2, Circle } from 'lucide-react';
import Link from '@/ui/link';
import type { ReactNode } from 'react';
import type { FirstSteps as Steps } from '@/server/work/jobs/first-steps';
import { usePreference } from '@/ui/preference';

/** Whether this browser shows the first steps: as long as one is left, always, or never. */
export const useFirstSteps = (): [string, (shown: string) => void] => usePreference('first-steps', 'while-open');

/** The first day of a shop: three steps, with how each of them stands. */
export function FirstSteps({ steps }: { steps: Steps }) {
  const [shown, show] = useFirstSteps();
  const [reading, readsBy] = usePreference('reads-by', '');
  const measures = steps.measures || reading === 'eye';
  const all = [measures, steps.hasReference, steps.hasJob];
  const isDone = all.every(Boolean);
  if (shown === 'never' || (isDone && shown !== 'always')) return null;
  return (
    <section aria-label="First steps" className="card mt-3">
      <div className="flex flex-wrap items-center gap-3">
        <h2 className="text-lg">Getting started: three steps</h2>
        <span className="text-muted">{all.filter(Boolean).length} of 3 done</span>
        <button type="button" className="button button-quiet ml-auto min-h-9" onClick={() => show('never')}>
          Hide
        </button>
      </div>
      <ol className="mt-2 grid gap-3 md:grid-cols-3">
        <Step isDone={measures} title="Connect a supply or meter" minutes={2}>
          <p>
            A supply or meter on the network or a serial port. If it has neither, use a camera or read the display
            yourself.
          </p>
          <Link href="/settings" className="button min-h-9">
            Add an instrument
          </Link>
          <Link href="/camera" className="button min-h-9">
            Read it with a camera
          </Link>
          <button
            type="button"
            className="button min-h-9"
            aria-pressed={reading === 'eye'}
            onClick={() => readsBy(reading === 'eye' ? '' : 'eye')}
          >
            I read the display myself
          </button>
        </Step>
        <Step isDone={steps.hasReference} title="Record one of your healthy devices" minutes={2}>
          <p>
            Create a job with its model, record a start, and press <em>Healthy</em> on that run. Later runs of the same
            model are compared with it. If the model has no profile, start one from the job first.
          </p>
          <Link href="/jobs/new" className="button min-h-9">
            New job for a healthy device
          </Link>
        </Step>
        <Step isDone={steps.hasJob} title="Create the first job" minutes={1}>
          <p>Enter the device, the complaint and anything you can see from outside.</p>
          <Link href="/jobs/new" className="button min-h-9">
            New job
          </Link>
        </Step>
      </ol>
    </section>
  );
}

function Step(props: { isDone: boolean; title: string; minutes: number; children: ReactNode }) {
  const { isDone, title, minutes, children } = props;
  return (
    <li className="min-w-0">
      <h3 className="flex items-start gap-2 font-semibold">
        {isDone ? (
          <CheckCircle2 size={20} className="mt-0.5 shrink-0 text-good" aria-hidden />
        ) : (
          <Circle size={20} className="mt-0.5 shrink-0 text-muted" aria-hidden />
        )}
        <span>
          {title} <span className="font-normal text-muted">· {isDone ? 'done' : `${minutes} min`}</span>
        </span>
      </h3>
      <div className="mt-1 flex flex-wrap items-center gap-2 pl-7 text-sm text-muted">{children}</div>
    </li>
  );
}
