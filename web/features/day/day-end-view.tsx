import { countOf, formatMoney, sayMinutes } from '@umbral/core/words';
import { CalendarDays, ChevronLeft, ChevronRight, Sheet } from 'lucide-react';
import Link from '@/ui/link';
import type { ReactNode } from 'react';
import { LocalDate } from '@/ui/kit/local-date';
import { jobNumber } from '@/features/words';
import type { DayEnd } from '@/server/work/day/day-end';

/** What a day came to, and what is promised for the next. */
export function DayEndView({ end }: { end: DayEnd }) {
  const total = end.minutes.reduce((sum, m) => sum + m.minutes, 0);
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-2">
        <h1 className="text-2xl">{end.isToday ? 'Today' : end.day}</h1>
        <Link href={`/day?on=${end.before}`} className="button w-11 px-0" aria-label="Previous day">
          <ChevronLeft size={18} aria-hidden />
        </Link>
        {!end.isToday && (
          <Link href={`/day?on=${end.after}`} className="button w-11 px-0" aria-label="Next day">
            <ChevronRight size={18} aria-hidden />
          </Link>
        )}
        <div className="ml-auto flex flex-wrap gap-2 print:hidden">
          <a href="/api/calendar" className="button" download>
            <CalendarDays size={17} aria-hidden /> Calendar file
          </a>
          <a href="/api/jobs-table" className="button" download>
            <Sheet size={17} aria-hidden /> All jobs as CSV
          </a>
        </div>
      </div>
      <div className="mt-3 grid gap-3.5 lg:grid-cols-2">
        <Part title={`Closed: ${end.closed.length}`}>
          {end.closed.length === 0 && <li className="text-muted">Nothing was closed.</li>}
          {end.outcomes.length > 0 && (
            <li className="font-semibold">{end.outcomes.map((o) => `${o.count} ${o.says}`).join(', ')}</li>
          )}
          {end.closed.map((j) => (
            <JobLine key={j.jobId} jobId={j.jobId} label={j.label} says={j.says} />
          ))}
        </Part>
        <Part title={end.next === null ? 'Nothing promised' : `Promised or due by ${end.next}: ${end.promised.length}`}>
          {end.promised.map((j) => (
            <JobLine
              key={j.jobId}
              jobId={j.jobId}
              label={j.label}
              says={
                <>
                  {j.isPromise ? 'promised for' : 'due'} <LocalDate iso={j.at} time />
                </>
              }
            />
          ))}
        </Part>
        <Part title={`Minutes: ${sayMinutes(total)}`}>
          {end.minutes.length === 0 && (
            <li className="text-muted">No job was in hand. Minutes count while you have a job in hand on the bench.</li>
          )}
          {end.minutes.map((m) => (
            <li key={m.kind} className="flex justify-between gap-3">
              <span>
                {m.kind}{' '}
                <span className="text-muted">{m.by.map((b) => `${b.who} ${sayMinutes(b.minutes)}`).join(', ')}</span>
              </span>
              <span>{sayMinutes(m.minutes)}</span>
            </li>
          ))}
        </Part>
        <Part title={`Money: ${formatMoney(end.money.left)}`}>
          <MoneyLine name="Fees of the jobs that were closed" amount={end.money.fees} />
          <MoneyLine name="Parts that were used" amount={-end.money.parts} />
          <MoneyLine name="Work, at what an hour costs" amount={-end.money.work} />
          <li className="text-sm text-muted">
            By the fees and costs in the settings. What customers really paid is not recorded here.
          </li>
        </Part>
        {end.worked.length > 0 && (
          <details className="card min-w-0 self-start">
            <summary className="cursor-pointer text-lg">Worked on: {countOf(end.worked.length, 'job')}</summary>
            <ul className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1">
              {end.worked.map((j) => (
                <JobLine key={j.jobId} jobId={j.jobId} label={j.label} says={countOf(j.entries, 'entry', 'entries')} />
              ))}
            </ul>
          </details>
        )}
      </div>
    </main>
  );
}

function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section aria-label={title.split(':')[0]} className="card min-w-0">
      <h2 className="text-lg">{title}</h2>
      <ul className="mt-2 grid grid-cols-[minmax(0,1fr)] gap-1">{children}</ul>
    </section>
  );
}

function MoneyLine({ name, amount }: { name: string; amount: number }) {
  return (
    <li className="flex justify-between gap-3">
      <span>{name}</span>
      <span className="tabular-nums">{formatMoney(amount)}</span>
    </li>
  );
}

function JobLine({ jobId, label, says }: { jobId: number; label: string; says: ReactNode }) {
  return (
    <li className="flex items-baseline gap-3 border-b border-line pb-1 last:border-0">
      <Link href={`/jobs/${jobId}`} className="min-w-0 flex-1 truncate hover:underline">
        <span className="text-muted">{jobNumber(jobId)}</span> <strong>{label}</strong>
      </Link>
      <span className="text-sm text-muted">{says}</span>
    </li>
  );
}
