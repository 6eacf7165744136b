'use client';

import { Activity, BadgeCheck, Layers, Plus, SlidersHorizontal } from 'lucide-react';
import dynamic from 'next/dynamic';
import Link, { useGo } from '@/ui/link';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { JobView, RunView } from '@/features/job/view';
import { markReference } from '@/features/models/actions';
import { useKey } from '@/ui/keys';
import { useAddRun } from './drop-runs';

const SetupDialog = dynamic(() => import('./setup-dialog').then((m) => m.SetupDialog), { ssr: false });

/** Adding a run, and correcting the setup of the one that is shown. */
export function RunButtons({
  view,
  chosen = null,
  first = false,
}: {
  view: JobView;
  chosen?: RunView | null;
  first?: boolean;
}) {
  const addRun = useAddRun();
  const go = useGo();
  useKey('r', 'add a run', addRun);
  useKey('v', 'compare runs', () => go(compareHref(view, chosen)));
  useKey('l', 'record live', () => go(`/jobs/${view.job.id}/record`));
  if (first) {
    return (
      <div className="card grid min-h-[420px] place-items-center text-center">
        <div>
          <h2 className="text-xl">{view.practice ? 'Switch it on' : 'Record the first run'}</h2>
          <p className="mx-auto mt-2 max-w-md text-muted">
            {view.practice
              ? 'Choose the feed and the instrument on your bench, then switch on and press power. The draw appears here. Then make your call. Or put it on the live bench and record it like a real device.'
              : 'Type what the display shows, or drop a log anywhere on this page. Start outside: every port, both plug orientations. Then the battery connector: output on, wait, press power.'}
          </p>
          <span className="mt-4 flex flex-wrap justify-center gap-2">
            <Link className={view.practice ? 'button' : 'button button-main'} href={`/jobs/${view.job.id}/record`}>
              <Activity size={17} aria-hidden /> Record live <kbd>l</kbd>
            </Link>
            <button type="button" className="button" onClick={addRun}>
              <Plus size={17} aria-hidden /> Add a run <kbd>r</kbd>
            </button>
          </span>
        </div>
      </div>
    );
  }
  return (
    <span className="flex flex-wrap justify-end gap-1.5">
      {chosen && view.job.profile && !view.practice && <ReferenceButton jobId={view.job.id} chosen={chosen} />}
      {view.runs.length > 0 && (
        <Link className="button min-h-9" href={compareHref(view, chosen)} title="Compare runs (v)">
          <Layers size={16} aria-hidden /> Compare
        </Link>
      )}
      {chosen && <SetupButton view={view} chosen={chosen} />}
      <Link className="button min-h-9" href={`/jobs/${view.job.id}/record`} title="Record live (l)">
        <Activity size={17} aria-hidden /> Record
      </Link>
      <button type="button" className="button min-h-9" onClick={addRun} title="Add a run (r)">
        <Plus size={16} aria-hidden /> Run
      </button>
    </span>
  );
}

/** The chosen run against the one before it, or after it where it is the first. */
function compareHref(view: JobView, chosen: RunView | null): string {
  // Which run it is held against is chosen there: the last of the same setup before the change.
  return `/jobs/${view.job.id}/compare${chosen ? `?of=${encodeURIComponent(chosen.run.id)}` : ''}`;
}

/** Keeps the run as what a healthy unit of this model draws. */
function ReferenceButton({ jobId, chosen }: { jobId: number; chosen: RunView }) {
  const { saving, save } = useSave();
  const isReference = chosen.isReference;
  return (
    <button
      type="button"
      className="button min-h-9"
      aria-pressed={isReference}
      disabled={saving}
      title={
        isReference
          ? 'Runs of this model are compared with this one. Press to undo'
          : 'This device is healthy. Compare other runs of this model with this one'
      }
      onClick={() =>
        save(() => markReference({ jobId, runId: chosen.id, isReference: !isReference }), {
          done: isReference ? 'No longer a reference.' : 'Saved as a reference for this model.',
        })
      }
    >
      <BadgeCheck size={16} aria-hidden /> {isReference ? 'Reference' : 'Healthy'}
    </button>
  );
}

function SetupButton({ view, chosen }: { view: JobView; chosen: RunView }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button type="button" className="button min-h-9" onClick={() => setOpen(true)}>
        <SlidersHorizontal size={15} aria-hidden /> Setup
      </button>
      {open && <SetupDialog view={view} chosen={chosen} onClose={() => setOpen(false)} />}
    </>
  );
}
