'use client';

import { countOf, formatMoney, sayMinutes } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import type { CalledView, PracticeView, Scored } from '@/server/practice/view';
import { Answer, Fact } from './answer';
import { finish } from './actions';
import { CallForm } from './call-form';
import type { Share } from './shares';
import { SuspectShares } from './suspect-shares';
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
      {/* What is said at the end begins from the call. */}
      {!truth && isMine && <Finish key={called ? 'called' : 'open'} practice={practice} />}
    </>
  );
}

/** Minutes and money as on a bench, and what was risked. */
function Took({ practice: { tally, isMine } }: { practice: PracticeView }) {
  const { minutes, cost, probes, wasted, risks } = tally;
  return (
    <section aria-label="Time and cost" className="text-sm">
      <p>
        <strong>Practice unit</strong> · {sayMinutes(minutes)} · {formatMoney(cost)}
        {probes > 0 && ` · ${countOf(probes, 'probe')}`}
        {wasted > 0 && ` · ${formatMoney(wasted)} of parts wasted`}
      </p>
      {!isMine && <p className="text-muted">It is on someone else’s practice bench. You can look at it.</p>}
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
      {truth.decided && (
        <p className="text-sm">
          <strong>What decides:</strong> <Fact fact={truth.decided} jobId={practice.jobId} />
        </p>
      )}
      {truth.first === null ? (
        <p className="mt-1 text-sm text-muted">You made no call, so there are no points.</p>
      ) : (
        <p className="mt-1">
          <Points of={truth.first} /> for your call
          {truth.last && (
            <>
              , <Points of={truth.last} /> at the end
            </>
          )}
          .
          <span className="block text-sm text-muted">
            0 means a random guess, 100 means sure and right. Being sure and wrong costs more than 100.
          </span>
        </p>
      )}
      <p className="mt-2 flex flex-wrap gap-2">
        <Link className="button button-main" href={lesson ? `/practice/lessons/${lesson}` : '/practice'}>
          {lesson ? 'Back to the lesson' : 'Continue practice'}
        </Link>
      </p>
    </section>
  );
}

/** Points of the call, the engine's behind them. */
function Points({ of: { points, engine } }: { of: Scored }) {
  return (
    <>
      <strong>{Math.round(points)} points</strong> (engine: {Math.round(engine)})
    </>
  );
}

/** Takes the unit off the bench; after more work than the call was made on, with what it is thought to be now. */
function Finish({ practice }: { practice: PracticeView }) {
  const { jobId, called, isWorkedOn, circuits } = practice;
  const { saving, save } = useSave();
  const [shares, setShares] = useState<Share[]>(
    () => called?.shares.map(({ id, percent }) => ({ circuit: id, percent })) ?? [],
  );
  const [problem, setProblem] = useState('');
  const send = (): void => {
    setProblem('');
    save(() => finish({ jobId, shares: isWorkedOn && shares.length > 0 ? shares : null }), { failed: setProblem });
  };
  return (
    <section aria-label="Finish" className={isWorkedOn ? 'card grid gap-2 p-3' : 'grid gap-1 text-sm'}>
      {isWorkedOn && (
        <>
          <h2 className="text-lg">What do you think now?</h2>
          <p className="text-sm text-muted">
            You know more than at your first call. Make a second call. It is scored separately.
          </p>
          <SuspectShares circuits={circuits} shares={shares} onChange={setShares} />
        </>
      )}
      {problem && (
        <p role="alert" className="text-sm text-decide">
          {problem}
        </p>
      )}
      <button type="button" className="button" disabled={saving} onClick={send}>
        {called ? 'Finish: show the fault' : 'Give up: show the fault'}
      </button>
      <p className="text-sm text-muted">
        {called
          ? 'You can continue first: measure, inject, replace, verify. Everything costs minutes.'
          : 'Without a call there are no points.'}
      </p>
    </section>
  );
}
