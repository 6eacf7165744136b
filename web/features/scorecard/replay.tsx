'use client';

import Link from '@/ui/link';
import { useRouter } from '@/ui/router';
import { useEffect } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { OldVerdicts } from '@/features/settings/old-verdicts';
import { jobNumber } from '@/features/words';
import { startReplay, stopReplay } from './actions';
import type { ReplayView, ScorecardPageView } from './queries';

const lookAgainMs = 1500;

/** Frozen calls made again with the engine that runs now, before its verdicts are put in force. */
export function ReplayCard({ view, isLead }: { view: ScorecardPageView; isLead: boolean }) {
  const { replay } = view;
  const router = useRouter();
  const { saving, save } = useSave();
  const isUnderWay = replay?.state === 'waiting' || replay?.state === 'running';
  useEffect(() => {
    if (!isUnderWay) return undefined;
    const timer = setInterval(() => router.refresh(), lookAgainMs);
    return () => clearInterval(timer);
  }, [isUnderWay, router]);
  return (
    <section aria-label="Recompute past verdicts" className="card grid content-start gap-2">
      <h2 className="text-lg">Recompute past verdicts</h2>
      <p className="text-sm text-muted">
        Runs every saved verdict through the current engine ({view.engine}), using only what was confirmed before it. No
        saved verdict changes.
      </p>
      {replay && !isUnderWay && <ReplayResult replay={replay} />}
      {replay && isUnderWay && (
        <div>
          <progress className="w-full" max={Math.max(1, replay.total)} value={replay.done} />
          <p className="text-sm">
            {replay.done} of {replay.total}
          </p>
        </div>
      )}
      {isLead && (
        <p className="flex flex-wrap gap-2">
          {isUnderWay ? (
            <button
              type="button"
              className="button"
              disabled={saving}
              onClick={() => save(() => stopReplay(replay.id))}
            >
              Cancel
            </button>
          ) : (
            <button type="button" className="button" disabled={saving} onClick={() => save(() => startReplay())}>
              Recompute
            </button>
          )}
        </p>
      )}
      {isLead && view.oldVerdicts.length > 0 && <OldVerdicts jobs={view.oldVerdicts} />}
    </section>
  );
}

const stateWords = { waiting: 'waits', running: 'running', done: 'done', cancelled: 'cancelled', failed: 'failed' };

function ReplayResult({ replay }: { replay: ReplayView }) {
  const { better, worse, same, logs, first } = replay;
  return (
    <div className="grid gap-1 text-sm">
      {replay.state !== 'done' && (
        <p>{`Last time: ${stateWords[replay.state]}${replay.problem ? ` (${replay.problem})` : ''}.`}</p>
      )}
      {!replay.isThisEngine && <p>These verdicts are from an older engine version.</p>}
      {logs && (
        <p>
          First suspect right: {first.before}, now {first.after} of {replay.done}. Log score {logs.before.toFixed(2)},
          now {logs.after.toFixed(2)}.
        </p>
      )}
      <Moved title={`Better: ${better.length}`} lines={better} />
      <Moved title={`Worse: ${worse.length}`} lines={worse} />
      <p className="text-muted">Same rank: {same}</p>
    </div>
  );
}

function Moved({ title, lines }: { title: string; lines: ReplayView['better'] }) {
  if (lines.length === 0) return <p>{title}</p>;
  return (
    <details>
      <summary>{title}</summary>
      <ul className="mt-1 grid max-h-56 gap-0.5 overflow-y-auto">
        {lines.map((line) => (
          <li key={line.job}>
            <Link href={`/jobs/${line.job}`} className="underline">
              {jobNumber(line.job)} {line.label}
            </Link>{' '}
            <span className="text-muted">{line.says}</span>
          </li>
        ))}
      </ul>
    </details>
  );
}
