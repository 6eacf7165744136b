'use client';

import { waitTypes } from '@umbral/core/words';
import Link from '@/ui/link';
import { LocalDate } from '@/ui/kit/local-date';
import { useSave } from '@/ui/kit/use-save';
import { jobNumber } from '@/features/words';
import type { RunSheet } from '@/server/work/day/sheet';
import { waitOver } from '@/features/waits/actions';
import { useServerNow } from './use-now';
import { countdown } from '../waits/wait-length';

/** What runs out next, what is over, and what waits for somebody else. */
export function WaitsPanel({ sheet }: { sheet: RunSheet }) {
  const now = useServerNow(sheet.madeAt);
  const { saving, save } = useSave();
  return (
    <section aria-labelledby="waits">
      <h2 id="waits" className="mb-2 text-lg">
        Waiting
      </h2>
      {sheet.waits.length === 0 && <p className="text-muted">Nothing is waiting.</p>}
      <ol className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
        {sheet.waits.map((wait) => {
          const type = waitTypes[wait.kind];
          const isOver = wait.until !== null && Date.parse(wait.until) <= now;
          return (
            <li
              key={wait.id}
              className={`rounded-xl border px-3 py-1.5 ${isOver ? 'border-decide bg-decide-soft' : 'border-line bg-surface'}`}
            >
              <div className="flex items-baseline gap-2">
                <Link href={`/jobs/${wait.jobId}`} className="min-w-0 flex-1 hover:underline">
                  <span className="block truncate font-bold">
                    <span className="text-muted">{jobNumber(wait.jobId)}</span> {wait.label}
                  </span>
                  <span className="block text-sm text-muted">
                    {wait.words || type.doing}
                    {wait.until === null && (
                      <>
                        {' '}
                        since <LocalDate iso={wait.since} time />
                      </>
                    )}
                  </span>
                </Link>
                {wait.until !== null && (
                  <span
                    role="timer"
                    className={`text-lg whitespace-nowrap ${isOver ? 'font-bold text-decide' : ''}`}
                    suppressHydrationWarning
                  >
                    {countdown(Date.parse(wait.until), now)}
                  </span>
                )}
              </div>
              {(isOver || wait.until === null) && (
                <div className="mt-0.5 flex flex-wrap items-center gap-2">
                  <span className="min-w-0 flex-1 text-sm">{isOver ? type.then : ''}</span>
                  <button
                    type="button"
                    className="button min-h-9"
                    disabled={saving}
                    aria-label={`${wait.label}: ${wait.until === null ? 'it arrived' : 'the wait is over'}`}
                    onClick={() => save(() => waitOver(wait.jobId, wait.id), { done: 'Back on the bench.' })}
                  >
                    {wait.until === null ? 'Arrived' : 'Done'}
                  </button>
                </div>
              )}
            </li>
          );
        })}
      </ol>
    </section>
  );
}
