'use client';

import { money, sayMinutes } from '@umbral/core/words';
import Link from 'next/link';
import { useSave } from '@/features/job/use-save';
import type { CalledView, PracticeView } from '@/server/practice/view';
import { Answer } from './answer';
import { finish } from './actions';
import { CallForm } from './call-form';
import { UnitBenchPanel } from './unit-bench';

/** What a practice unit adds to its job: the bench it lies on, the call before the answer, what it took, what it was. */
export function UnitPanel({ practice, hasRuns }: { practice: PracticeView; hasRuns: boolean }) {
  const { jobId, called, truth, isMine } = practice;
  return (
    <>
      <Took practice={practice} />
      {truth && <Truth practice={practice} />}
      {!truth && isMine && <UnitBenchPanel jobId={jobId} bench={practice.bench} />}
      {!truth && isMine && !called && hasRuns && <CallForm practice={practice} />}
      {called && <Answer practice={practice as PracticeView & { called: CalledView }} />}
      {!truth && isMine && <Finish jobId={jobId} isCalled={called !== null} />}
    </>
  );
}

/** Minutes and money as on a bench, and what was risked. */
function Took({ practice: { tally, isMine } }: { practice: PracticeView }) {
  const { minutes, cost, probes, wasted, risks } = tally;
  return (
    <section aria-label="What it took" className="text-sm">
      <p>
        <strong>Practice unit</strong> · {sayMinutes(minutes)} · {money(cost)}
        {probes > 0 && ` · ${probes} ${probes === 1 ? 'probe' : 'probes'}`}
        {wasted > 0 && ` · ${money(wasted)} of parts in vain`}
      </p>
      {!isMine && <p className="text-muted">It is on somebody else’s practice bench; you can look at it.</p>}
      {risks.map((r) => (
        <p key={r.says} className="text-decide">
          Risk taken. {r.says}
        </p>
      ))}
    </section>
  );
}

function Truth({ practice }: { practice: PracticeView }) {
  const { truth, lesson } = practice;
  if (!truth) return null;
  return (
    <section aria-label="What it was" className="rounded-[14px] border-2 border-umbra bg-raised px-3.5 py-3">
      <h2 className="text-xl">{truth.circuit}</h2>
      <p>{truth.says}.</p>
      {truth.points === null ? (
        <p className="mt-1 text-sm text-muted">You did not call it, so there are no points.</p>
      ) : (
        <p className="mt-1">
          <strong>{Math.round(truth.points)} points</strong> for your percentages; the engine{' '}
          {Math.round(truth.enginePoints ?? 0)}.
          <span className="block text-sm text-muted">
            0 is knowing nothing, 100 is being sure and right. Sure and wrong costs more than 100.
          </span>
        </p>
      )}
      <p className="mt-2 flex flex-wrap gap-2">
        <Link className="button button-main" href={lesson ? `/practice/lessons/${lesson}` : '/practice'}>
          {lesson ? 'Back to the lesson' : 'On with practice'}
        </Link>
      </p>
    </section>
  );
}

function Finish({ jobId, isCalled }: { jobId: number; isCalled: boolean }) {
  const { saving, save } = useSave();
  return (
    <div className="grid gap-1 text-sm">
      <button type="button" className="button" disabled={saving} onClick={() => save(() => finish(jobId))}>
        {isCalled ? 'Finish: what was it?' : 'Give it up: what was it?'}
      </button>
      <p className="text-muted">
        {isCalled
          ? 'Go on first, where you like: measure, feed, replace, prove. All of it counts minutes.'
          : 'Without a call there are no points.'}
      </p>
    </div>
  );
}

/** Where the run will stand. */
export function NoRunYet() {
  return (
    <div className="card grid min-h-[420px] place-items-center text-center">
      <div>
        <h2 className="text-xl">Switch it on</h2>
        <p className="mx-auto mt-2 max-w-md text-muted">
          Choose on your bench how it is fed and what reads it, then switch on and press. What it draws appears here.
          Then call what it has.
        </p>
      </div>
    </div>
  );
}
