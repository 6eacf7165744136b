'use client';

import { CalendarDays, FilePlus2, Monitor, Package } from 'lucide-react';
import { countOf, formatMoney } from '@umbral/core/words';
import Link from '@/ui/link';
import { useState } from 'react';
import { sheetFilters, type SheetFilter } from '@/features/day/filters';
import { SheetList } from '@/features/day/sheet-list';
import { useSheet } from '@/features/day/use-sheet';
import { WaitsPanel } from '@/features/day/waits-panel';
import { gradeWords, jobNumber } from '@/features/words';
import type { RunSheet } from '@/server/work/day/sheet';
import { Empty } from '@/ui/parts';
import { FirstSteps } from './first-steps';
import { ImportButton, SampleButton } from './import-button';
import { LocalDate } from '@/ui/kit/local-date';
import type { Bench } from '@/features/day/queries';

/** The run sheet: what can be done now, in order, with the reason; beside it what runs out next and what waits. */
export function BenchView(given: { bench: Bench; sheet: RunSheet; personId: number }) {
  const { bench, sheet, awaySince } = useSheet(given);
  const [filter, setFilter] = useState<SheetFilter>('all');
  const { jobs, recalls, closed, trashed, sampleYear, firstSteps } = bench;
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Bench</h1>
        <p className="text-muted">
          {sheet.entries.filter((e) => e.isReady).length} to do now · {sheet.waits.length} waiting · {closed} closed
          {trashed > 0 ? ` · ${trashed} in the trash` : ''}
          {sheet.opensAt !== null && (
            <>
              {' '}
              · opens <LocalDate iso={sheet.opensAt} time />
            </>
          )}
        </p>
        <div className="ml-auto flex flex-wrap gap-2">
          <Link href="/day" className="button" title="What was done today, and what was promised">
            <CalendarDays size={17} aria-hidden /> Day
          </Link>
          <Link href="/wall" className="button" title="For a monitor above the bench">
            <Monitor size={17} aria-hidden /> Wall
          </Link>
          <ImportButton>
            <Package size={17} aria-hidden /> Import a case
          </ImportButton>
          <Link href="/jobs/new" className="button button-main" title="New job (n)">
            <FilePlus2 size={17} aria-hidden /> New job
          </Link>
        </div>
      </div>
      {awaySince !== null && (
        <p role="status" className="mt-3 rounded-lg border border-decide bg-decide-soft px-3 py-2">
          The database does not answer. This is the run sheet of <LocalDate iso={awaySince} time />. It updates as soon
          as the database answers.
        </p>
      )}
      {sampleYear && (
        <p role="status" className="mt-3 rounded-lg border border-line bg-surface px-3 py-2 text-muted">
          The sample year is loading: {Math.floor((100 * sampleYear.done) / sampleYear.of)} %. Scorecard, notebook and
          atlas will be complete then. Everything else works now.
        </p>
      )}
      {firstSteps && <FirstSteps steps={firstSteps} />}
      {jobs.length === 0 && (
        <Empty title="No jobs">
          <p>Create a job for the next device, or type what the meter shows into the quick read above (press /).</p>
          {closed === 0 && <SampleButton />}
        </Empty>
      )}
      {jobs.length + recalls.length > 0 && (
        <div className="mt-3 grid gap-4 lg:grid-cols-[minmax(0,1fr)_300px]">
          <section aria-labelledby="now" className="min-w-0">
            <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
              <h2 id="now" className="text-lg">
                To do now
              </h2>
              <div role="group" aria-label="Show" className="flex flex-wrap gap-1.5">
                {Object.entries(sheetFilters).map(([id, { name }]) => (
                  <button
                    key={id}
                    type="button"
                    className="button min-h-9 px-2.5 font-medium"
                    aria-pressed={filter === id}
                    onClick={() => setFilter(id as SheetFilter)}
                  >
                    {name}
                  </button>
                ))}
              </div>
              <SheetFoot sheet={sheet} />
            </div>
            <SheetList bench={bench} sheet={sheet} filter={filter} personId={given.personId} />
          </section>
          <div className="grid min-w-0 grid-cols-[minmax(0,1fr)] content-start gap-4">
            <WaitsPanel sheet={sheet} />
            {recalls.length > 0 && (
              <section aria-labelledby="recalls">
                <h2 id="recalls" className="mb-2 text-lg">
                  Check again
                </h2>
                <ul className="grid gap-1.5">
                  {recalls.map((r) => (
                    <li key={r.id}>
                      <Link
                        href={`/jobs/${r.id}`}
                        className="block rounded-xl border border-line bg-surface px-3 py-1.5 hover:border-edge"
                      >
                        <strong className="block truncate">
                          <span className="text-muted">{jobNumber(r.id)}</span> {r.label}
                        </strong>
                        <span className="text-sm text-muted">
                          {gradeWords[r.grade]} · on <LocalDate iso={r.on} />
                        </span>
                      </Link>
                    </li>
                  ))}
                </ul>
              </section>
            )}
          </div>
        </div>
      )}
    </main>
  );
}

/** What this order costs, in a line. How low a bound lies is no order that anybody could work in, and is not said. */
function SheetFoot({ sheet }: { sheet: RunSheet }) {
  if (sheet.entries.length < 2) return null;
  return (
    <p className="ml-auto text-sm text-muted" title="Cost of waiting and lateness in this order, by the shop policy">
      {sheet.late > 0 && `${countOf(sheet.late, 'job')} will be late. `}
      {sheet.isBest
        ? `Waiting costs about ${formatMoney(sheet.cost)}. No other order costs less.`
        : `Waiting costs about ${formatMoney(sheet.cost)} in this order, the best that was found.`}
    </p>
  );
}
