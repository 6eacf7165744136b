'use client';

import { LocalDate } from '@/ui/kit/local-date';
import { jobNumber } from '@/features/words';
import { useSyncExternalStore } from 'react';
import { lastSheet, type KeptSheet } from './kept-sheet';

const never = (): (() => void) => () => undefined;
let read: { sheet: KeptSheet | null } | null = null;
const once = (): KeptSheet | null => (read ??= { sheet: lastSheet() }).sheet;

/** The run sheet that this screen showed last, for a bench whose record does not answer. */
export function LastSheet() {
  const sheet = useSyncExternalStore(never, once, () => null);
  if (!sheet || sheet.lines.length === 0) return null;
  return (
    <section aria-label="Last run sheet" className="card mx-auto mt-4 max-w-3xl">
      <h2 className="text-lg">
        Run sheet from <LocalDate iso={sheet.madeAt} time />
      </h2>
      <ol className="mt-2 grid gap-1.5">
        {sheet.lines.map((line) => (
          <li key={line.jobId} className="border-b border-line pb-1 last:border-0">
            <strong>
              <span className="text-muted">{jobNumber(line.jobId)}</span> {line.label}
            </strong>
            <span className="block">
              {line.next} <span className="text-muted">{line.why}</span>
            </span>
          </li>
        ))}
      </ol>
      {sheet.waits.length > 0 && (
        <ul className="mt-2 text-muted">
          {sheet.waits.map((wait) => (
            <li key={`${wait.jobId}-${wait.says}`}>
              {wait.label}: {wait.says}
              {wait.until !== null && (
                <>
                  , until <LocalDate iso={wait.until} time />
                </>
              )}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
