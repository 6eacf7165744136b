'use client';

import { waitTypes, workPlaces, sayMinutes } from '@umbral/core/words';
import type { ReactNode } from 'react';
import type { Bench } from './queries';
import { jobNumber } from '@/features/words';
import type { RunSheet } from '@/server/work/day/sheet';
import { LocalDate } from '@/ui/kit/local-date';
import { useServerNow } from './use-now';
import { useSheet } from './use-sheet';
import { countdown } from '../waits/wait-length';

/** Lines that are read from three metres away. */
const lines = 5;

/** For a monitor over the bench: what to do, what runs out, who is waited for. Nothing to press. */
export function WallView(given: { bench: Bench; sheet: RunSheet }) {
  const { bench, sheet, awaySince } = useSheet(given);
  const now = useServerNow(sheet.madeAt);
  const label = (id: number): string => bench.jobs.find((j) => j.id === id)?.label ?? '';
  const ready = sheet.entries.filter((e) => e.isReady);
  // What ends by itself, and what ends when somebody does something, with the day that was thought of.
  const isOpen = (w: (typeof sheet.waits)[number]): boolean => w.until === null || waitTypes[w.kind].isOpen === true;
  const timed = sheet.waits.filter((w) => !isOpen(w));
  const open = sheet.waits.filter(isOpen);
  const [first, ...rest] = ready;
  return (
    <main className="grid min-h-[calc(100vh-4rem)] grid-cols-[minmax(0,1fr)] content-start gap-x-10 gap-y-6 px-4 py-5 text-2xl sm:px-6 lg:grid-cols-[minmax(0,1.3fr)_minmax(0,1fr)] xl:text-3xl">
      {awaySince !== null && (
        <p role="status" className="rounded-xl border border-decide bg-decide-soft px-4 py-2 lg:col-span-2">
          The database does not answer. As of <LocalDate iso={awaySince} time />.
        </p>
      )}
      <Part title="Now">
        {!first && <p className="text-muted">Nothing can be done now.</p>}
        {first && (
          <div className="mb-4 rounded-2xl border-2 border-decide bg-decide-soft px-5 py-4">
            <p className="text-3xl font-bold break-words sm:text-4xl xl:text-5xl">
              <span className="text-muted">{jobNumber(first.jobId)}</span> {label(first.jobId)}
            </p>
            <p className="mt-2">{first.next.name}</p>
            <p className="text-muted">
              {sayMinutes(first.next.minutes)}, {workPlaces[first.next.place].name}
              {first.holder ? `, ${first.holder.name}` : ''}
            </p>
          </div>
        )}
        <ol className="grid grid-cols-[minmax(0,1fr)] gap-2" start={2}>
          {rest.slice(0, lines).map((e) => (
            <li key={e.jobId} className="border-b border-line pb-2">
              <p className="truncate font-bold">
                <span className="text-muted">{jobNumber(e.jobId)}</span> {label(e.jobId)}
              </p>
              <p className="truncate text-xl text-muted xl:text-2xl">
                {e.next.name}, {sayMinutes(e.next.minutes)}
              </p>
            </li>
          ))}
        </ol>
        {rest.length > lines && <p className="mt-2 text-muted">and {rest.length - lines} more</p>}
      </Part>
      <div className="grid grid-cols-[minmax(0,1fr)] content-start gap-6">
        <Part title="Waits ending">
          {timed.length === 0 && <p className="text-muted">None.</p>}
          <ol className="grid grid-cols-[minmax(0,1fr)] gap-2">
            {timed.slice(0, lines).map((w) => {
              const isOver = Date.parse(w.until as string) <= now;
              return (
                <li
                  key={w.id}
                  className={`flex items-baseline gap-4 rounded-xl px-3 py-1.5 ${isOver ? 'bg-decide-soft font-bold text-decide' : ''}`}
                >
                  <span className="min-w-0 flex-1">
                    <span className="block truncate font-bold">{w.label}</span>
                    <span className="block truncate text-xl text-muted xl:text-2xl">
                      {w.words || waitTypes[w.kind].doing}
                    </span>
                  </span>
                  <span className="text-2xl whitespace-nowrap sm:text-4xl xl:text-5xl" suppressHydrationWarning>
                    {countdown(Date.parse(w.until as string), now)}
                  </span>
                </li>
              );
            })}
          </ol>
        </Part>
        <Part title="Waiting on others">
          {open.length === 0 && <p className="text-muted">None.</p>}
          <ol className="grid grid-cols-[minmax(0,1fr)] gap-2">
            {open.slice(0, lines).map((w) => (
              <li key={w.id}>
                <span className="block truncate font-bold">{w.label}</span>
                <span className="block truncate text-xl text-muted xl:text-2xl">
                  {w.words || waitTypes[w.kind].doing}, since <LocalDate iso={w.since} time />
                </span>
              </li>
            ))}
          </ol>
        </Part>
      </div>
    </main>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title} className="min-w-0">
      <h2 className="mb-2 text-xl tracking-wide text-muted">{title}</h2>
      {children}
    </section>
  );
}
