'use client';

import { countOf, formatMoney, sayMinutes } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { AreaField, SelectField } from '@/ui/kit/fields';
import { useSave } from '@/ui/kit/use-save';
import type { CalledView, PracticeView, Scored } from '@/server/work/practice/view';
import { Answer, FactLine } from './answer';
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
          <strong>What decides:</strong> <FactLine fact={truth.decided} jobId={practice.jobId} />
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
      {truth.closing && (
        <div className="mt-1 text-sm">
          <p>
            <strong>{truth.closing.isRight ? 'Correct outcome:' : 'Wrong outcome:'}</strong> “{truth.closing.name}”.{' '}
            {truth.closing.says}
          </p>
          {truth.closing.open.length > 0 && (
            <>
              <p className="text-muted">The report says that this was not tested:</p>
              <ul className="list-disc pl-5 text-muted">
                {truth.closing.open.map((o) => (
                  <li key={o}>{o}</li>
                ))}
              </ul>
            </>
          )}
        </div>
      )}
      <p className="mt-2 flex flex-wrap gap-2">
        {truth.closing && (
          <Link className="button" href={`/jobs/${practice.jobId}/report`}>
            Read the report
          </Link>
        )}
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
  const { jobId, called, isWorkedOn, circuits, grades } = practice;
  const { saving, save } = useSave();
  const [shares, setShares] = useState<Share[]>(
    () => called?.shares.map(({ id, percent }) => ({ circuit: id, percent })) ?? [],
  );
  const [closing, setClosing] = useState({ grade: '', fix: '' });
  const [problem, setProblem] = useState('');
  const send = (): void => {
    setProblem('');
    save(() => finish({ jobId, shares: isWorkedOn && shares.length > 0 ? shares : null, ...closing }), {
      failed: setProblem,
    });
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
      {called && (
        <>
          <SelectField
            label="How would you close the job?"
            value={closing.grade}
            onValue={(grade) => setClosing({ ...closing, grade })}
          >
            <option value="">not closed, only finished</option>
            {grades.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </SelectField>
          {closing.grade && (
            <AreaField
              label="What would you write in the report?"
              className="min-h-16"
              value={closing.fix}
              onValue={(fix) => setClosing({ ...closing, fix })}
            />
          )}
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
