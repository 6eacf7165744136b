'use client';

import { namedChecks, sayMinutes } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { useKey } from '@/ui/keys';
import { addAction, addCheck, takeBack, tryOnUnit } from './actions';
import { Asks, SamePlace } from '@/ui/kit/form-parts';
import { useSave } from '@/ui/kit/use-save';
import type { JobView, NextView } from './view';

/** Below this a gain reads as nothing. */
const minSaidBits = 0.05;

/** The cheapest next test with what each suspect predicts for it, and buttons for its outcomes. */
export function NextTests({ view }: { view: JobView }) {
  const [index, setIndex] = useState(0);
  const [all, setAll] = useState(false);
  const { next } = view;
  if (next.length === 0) return null;
  const at = Math.min(index, next.length - 1);
  return (
    <>
      <NextTest
        key={`${next[at].name}-${at}`}
        jobId={view.job.id}
        next={next[at]}
        isPractice={view.practice !== null}
      />
      {view.outlook && <p className="text-sm text-muted">{view.outlook}</p>}
      {next.length > 1 && (
        <div>
          <h3 className="mb-1 text-sm font-semibold text-muted">Alternatives</h3>
          <ul className="flex flex-wrap gap-1.5">
            {next.map((n, k) =>
              k === at || (!all && k > 3) ? null : (
                <li key={k} className="max-w-full">
                  <button
                    type="button"
                    className="chip min-h-9 max-w-full bg-raised text-left whitespace-normal hover:border-edge"
                    onClick={() => setIndex(k)}
                  >
                    {n.name}
                  </button>
                </li>
              ),
            )}
            {!all && next.length > 4 && (
              <li>
                <button
                  type="button"
                  className="chip min-h-9 text-muted hover:border-edge"
                  onClick={() => setAll(true)}
                >
                  {next.length - 4} more
                </button>
              </li>
            )}
          </ul>
        </div>
      )}
    </>
  );
}

/** A practice unit answers for itself: one button, whatever it shows. */
function AskUnit({ jobId, check, name }: { jobId: number; check: string; name: string }) {
  const { saving, save } = useSave();
  const [says, setSays] = useState('');
  const ask = (): void =>
    save(() => tryOnUnit({ jobId, check }), {
      done: (outcome) => (outcome === null ? undefined : `${name}: ${outcome.replaceAll('-', ' ')}.`),
      then: (outcome) => {
        if (outcome === null) setSays('This cannot be seen on a simulated unit. Choose another test.');
      },
    });
  useKey('1', 'next test: do it on this unit', ask);
  return (
    <>
      <button type="button" className="button w-full" disabled={saving} onClick={ask}>
        Do it on this unit <kbd aria-hidden>1</kbd>
      </button>
      {says && (
        <p role="status" className="mt-1 text-sm">
          {says}
        </p>
      )}
    </>
  );
}

function NextTest({ jobId, next, isPractice }: { jobId: number; next: NextView; isPractice: boolean }) {
  const { saving, save } = useSave();
  const { suggestion: s, outcomes } = next;
  const [asks, setAsks] = useState<{ says: string[]; sameAs: string | null }>({ says: [], sameAs: null });
  const isAsked = asks.says.length > 0 || asks.sameAs !== null;
  const record = (outcome: string | null, target = s.action?.target ?? ''): void => {
    if (s.check)
      save((confirmed) => addCheck({ jobId, check: s.check, outcome, confirmed }), {
        entry: `${next.name}: ${outcome?.replaceAll('-', ' ') ?? 'noted'}`,
        done: `${next.name}: ${outcome?.replaceAll('-', ' ') ?? 'noted'}.`,
        undo: (entryId) => save(() => takeBack({ jobId, table: 'checks', entryId })),
      });
    else if (s.action)
      save(
        () =>
          addAction({
            jobId,
            kind: s.action!.kind,
            circuit: s.action!.circuit,
            target,
            confirmed: isAsked,
          }),
        {
          then: (entered) => setAsks({ says: entered.asks, sameAs: entered.sameAs ?? null }),
        },
      );
  };
  return (
    <section aria-label="Next test" className="arrives rounded-[14px] border-2 border-decide bg-raised px-3.5 py-3">
      <h3 className="text-lg">{next.name}</h3>
      {s.kind === 'stop' || s.kind === 'verify' ? (
        <p className="mt-1 text-sm">
          {s.why}
          {s.kind === 'verify' && ` About ${sayMinutes(s.minutes)}.`}
        </p>
      ) : (
        <>
          <p className="text-[0.87rem] text-muted">
            {sayMinutes(s.minutes)} · {s.why}
            {s.risk && s.depth > 0 && <> Risk: {s.risk}.</>}
          </p>
          <table className="my-2 w-full text-sm">
            <caption className="sr-only">What each suspect predicts</caption>
            <tbody>
              {next.predicts.map((p) => (
                <tr key={p.circuit} className="border-b border-dotted border-line">
                  <th scope="row" className="py-0.5 pr-2 text-left font-normal">
                    {p.circuit}
                  </th>
                  <td className="py-0.5 text-right">{p.says}</td>
                </tr>
              ))}
            </tbody>
          </table>
          <details className="mb-2 text-sm text-muted">
            <summary className="cursor-pointer">Why?</summary>
            {s.bits >= minSaidBits
              ? `It is expected to gain ${s.bits.toFixed(1)} bits of information.`
              : 'It will not narrow the suspects further.'}
          </details>
          {s.depth >= 4 && (
            <p className="mb-2 text-sm text-decide">
              Heat, or something that cannot be undone. Eye protection, extraction. Is the data needed, and does the
              customer agree?
            </p>
          )}
          {s.kind === 'check' && outcomes.length > 0 && isPractice && (
            <AskUnit jobId={jobId} check={s.check ?? ''} name={next.name} />
          )}
          {s.kind === 'check' && outcomes.length > 0 && !isPractice && (
            <div className="grid grid-cols-2 gap-2 sm:grid-cols-3 lg:grid-cols-2 xl:grid-cols-3">
              {outcomes.map((o, k) => (
                <OutcomeButton key={o} outcome={o} number={k + 1} disabled={saving} onPick={() => record(o)} />
              ))}
            </div>
          )}
          {s.kind === 'check' && outcomes.length === 0 && (
            <Link
              className="button w-full"
              href={`/jobs/${jobId}/${s.check === namedChecks.inject ? 'locate' : 'measure'}`}
            >
              {s.check === namedChecks.inject ? 'Plan it' : 'Go to the rail list'}
            </Link>
          )}
          {(s.kind === 'reading' || s.kind === 'injection') && (
            <Link className="button w-full" href={`/jobs/${jobId}/${s.kind === 'reading' ? 'measure' : 'locate'}`}>
              {s.kind === 'reading' ? 'Go to the rail list' : 'Plan it'}
            </Link>
          )}
          {s.kind === 'action' && (
            <>
              <SamePlace sameAs={asks.sameAs} onSame={(target) => record(null, target)} />
              <Asks of={asks.says} />
              <button type="button" className="button w-full" disabled={saving} onClick={() => record(null)}>
                {asks.sameAs !== null ? 'Save as another part' : isAsked ? 'Save anyway' : 'Mark as done'}
              </button>
            </>
          )}
        </>
      )}
    </section>
  );
}

function OutcomeButton({
  outcome,
  number,
  disabled,
  onPick,
}: {
  outcome: string;
  number: number;
  disabled: boolean;
  onPick: () => void;
}) {
  useKey(String(number), `next test: ${outcome.replaceAll('-', ' ')}`, onPick);
  return (
    <button
      type="button"
      className="button min-w-0 px-1.5 text-[0.93rem] leading-tight"
      disabled={disabled}
      onClick={onPick}
    >
      {outcome.replaceAll('-', ' ')} <kbd aria-hidden>{number}</kbd>
    </button>
  );
}
