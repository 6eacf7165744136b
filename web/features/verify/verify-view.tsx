'use client';

import Link from '@/ui/link';
import { sayMinutes } from '@umbral/core/words';
import { Empty, Hazard } from '@/ui/parts';
import { PassAll } from './pass-all';
import { Remainder } from './remainder';
import { StepRow } from './step-row';
import type { VerifyView } from './view';

/** Proving a repair: protocols with what shows each step, what is off the board, what may come back. */
export function VerifyBoard({ view }: { view: VerifyView }) {
  const { proof } = view;
  if (!proof)
    return (
      <Empty title="Nothing to verify yet">
        <p>Proofs follow a repair. Enter what was done to the device, and the steps that prove it appear here.</p>
        <Link className="button" href={`/jobs/${view.jobId}`}>
          Go to the job
        </Link>
      </Empty>
    );
  const next = proof.protocols.flatMap((p) => p.steps).find((s) => s.result === null);
  return (
    <div className="mt-2 grid gap-3.5 lg:grid-cols-[minmax(0,1fr)_344px]">
      <section aria-label="Proofs" className="grid min-w-0 content-start gap-2.5">
        {view.hazards.map((h) => (
          <Hazard key={h}>{h}</Hazard>
        ))}
        {proof.protocols.length === 0 && (
          <p className="card p-3">
            {view.works
              ? 'Nothing is left to prove.'
              : 'There is nothing to prove while it does not work. First find and mend what still fails.'}
          </p>
        )}
        {proof.protocols.map((p) => {
          const shown = p.steps.filter((s) => s.result === 'pass').length;
          return (
            <section key={p.id} aria-label={p.name} className="card overflow-hidden p-0">
              <header className="flex flex-wrap items-baseline gap-x-3 px-3 pt-2">
                <h2 className="font-bold">{p.name}</h2>
                <span className="text-sm text-muted">
                  {shown} of {p.steps.length} done · about {sayMinutes(p.minutes)} · shows {p.proves}
                </span>
                {!view.isClosed && <PassAll jobId={view.jobId} protocol={p} />}
              </header>
              <ol className="mt-1 divide-y divide-line border-t border-line">
                {p.steps.map((s) => (
                  <StepRow key={`${s.id}-${s.result}`} view={view} step={s} isMarked={s === next && !view.isClosed} />
                ))}
              </ol>
            </section>
          );
        })}
      </section>
      <Remainder view={view} />
    </div>
  );
}
