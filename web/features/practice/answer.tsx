import type { Fact } from '@umbral/core';
import { formatPercent } from '@umbral/core/words';
import Link from '@/ui/link';
import type { CalledView, PracticeView } from '@/server/work/practice/view';

/** The call beside what the engine said of the same, and what the call missed, each with where it can be seen. */
export function Answer({ practice }: { practice: PracticeView & { called: CalledView } }) {
  const { called, jobId } = practice;
  const { engine, shares } = called;
  const all = [...new Map([...shares, ...engine.circuits].map((c) => [c.id, c.name])).entries()];
  return (
    <section aria-label="The answer" className="card grid gap-2 p-3">
      <h2 className="text-lg">The engine’s answer</h2>
      <p className="text-sm">
        You: “{called.pattern}”. The engine: “{engine.pattern}”, {formatPercent(engine.patternP)}.
      </p>
      <table className="w-full text-sm">
        <thead>
          <tr className="text-left text-muted">
            <th scope="col" className="font-normal">
              Circuit
            </th>
            <th scope="col" className="pl-2 text-right font-normal">
              You
            </th>
            <th scope="col" className="pl-2 text-right font-normal">
              Engine
            </th>
          </tr>
        </thead>
        <tbody>
          {all.map(([id, name]) => {
            const p = engine.circuits.find((c) => c.id === id)?.p;
            return (
              <tr key={id} className="border-t border-dotted border-line">
                <th scope="row" className="py-0.5 text-left font-normal">
                  {name}
                </th>
                <td className="pl-2 text-right tabular-nums">{shares.find((s) => s.id === id)?.percent ?? 0} %</td>
                <td className="pl-2 text-right tabular-nums">{p === undefined ? 'under 1 %' : formatPercent(p)}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {/* What decides stands with the truth already: a heading over nothing says nothing. */}
      {(called.missed.length > 0 || !called.decided || !practice.truth) && (
        <h3 className="font-semibold">What you missed</h3>
      )}
      {called.missed.length === 0 ? (
        !called.isUndecided &&
        !called.decided && <p className="text-sm text-muted">Nothing. Your call agrees with the evidence.</p>
      ) : (
        <ol className="grid list-decimal gap-1 pl-5 text-sm">
          {called.missed.map((o) => (
            <li key={o.says}>
              <FactLine fact={o} jobId={jobId} />
            </li>
          ))}
        </ol>
      )}
      {called.decided && !practice.truth && (
        <p className="text-sm">
          <strong>What decides:</strong> <FactLine fact={called.decided} jobId={jobId} />
        </p>
      )}
      {called.isUndecided && !practice.truth && (
        <p className="text-sm">What was recorded so far does not show which circuit it is. A measurement does.</p>
      )}
      <NextTest called={called} />
    </section>
  );
}

/** Something to be seen, with the way to its place. */
export function FactLine({ fact: { says, run, span }, jobId }: { fact: Fact; jobId: number }) {
  return (
    <>
      {says}{' '}
      {run && span && (
        <Link
          className="font-semibold text-umbra underline"
          href={`/jobs/${jobId}?run=${run}&at=${span.map((t) => t.toFixed(2)).join('-')}#run`}
        >
          Show me
        </Link>
      )}
    </>
  );
}

/** The test that was named beside the engine's, with what it is worth. */
function NextTest({ called: { test, testPoints, expects, expectsP, engine } }: { called: CalledView }) {
  return (
    <div className="border-t border-line pt-2 text-sm">
      <h3 className="font-semibold">Next test</h3>
      <p>
        You: {test || 'none given'}
        {testPoints !== null && `, ${Math.round(testPoints)} of 100 points`}.{expects && ` You expect “${expects}”`}
        {expects && expectsP !== null && `; the engine gives this ${formatPercent(expectsP)}`}
        {expects && '.'}
      </p>
      {engine.next && (
        <p>
          The engine: <strong>{engine.next}</strong>
          {engine.nextWhy && `: ${engine.nextWhy}`}
        </p>
      )}
      {testPoints !== null && (
        <p className="text-muted">
          Points for what it tells about the circuit per minute, compared with the engine’s test.
        </p>
      )}
    </div>
  );
}
