import { Clock, FilePlus2, Package } from 'lucide-react';
import Link from 'next/link';
import { classWords, gradeWords, jobNumber } from '@/features/words';
import { Empty } from '@/ui/parts';
import { Silhouette } from '@/ui/silhouette';
import { ImportButton, SampleButton } from './import-button';
import { LocalDate } from './local-date';
import type { BenchJob, Recall } from './queries';

/** The run sheet: what can be done now, in order, with the reason; then what waits. */
export function BenchView({
  ready,
  waiting,
  recalls,
  closed,
  trashed,
  now,
}: {
  ready: BenchJob[];
  waiting: BenchJob[];
  recalls: Recall[];
  closed: number;
  trashed: number;
  now: string;
}) {
  const nothing = ready.length + waiting.length === 0;
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="text-2xl">Bench</h1>
        <p className="text-muted">
          {ready.length} to do now · {waiting.length} waiting · {closed} closed
          {trashed > 0 ? ` · ${trashed} in the trash` : ''}
        </p>
        <div className="ml-auto flex gap-2">
          <ImportButton>
            <Package size={17} aria-hidden /> Import a case
          </ImportButton>
          <Link href="/jobs/new" className="button button-main" title="New job (n)">
            <FilePlus2 size={17} aria-hidden /> New job
          </Link>
        </div>
      </div>
      {nothing && (
        <Empty title="The bench is empty">
          <p>Start a job for the next device, or type what a meter shows into the quick read above (press /).</p>
          {closed === 0 && <SampleButton />}
        </Empty>
      )}
      {ready.length > 0 && (
        <section aria-labelledby="now" className="mt-4">
          <h2 id="now" className="mb-2 text-lg">
            To do now
          </h2>
          <ol className="grid gap-2">
            {ready.map((job) => (
              <JobLine key={job.id} job={job} now={now} />
            ))}
          </ol>
        </section>
      )}
      {waiting.length > 0 && (
        <section aria-labelledby="waits" className="mt-6">
          <h2 id="waits" className="mb-2 text-lg">
            Waiting
          </h2>
          <ol className="grid gap-2">
            {waiting.map((job) => (
              <JobLine key={job.id} job={job} now={now} />
            ))}
          </ol>
        </section>
      )}
      {recalls.length > 0 && (
        <section aria-labelledby="recalls" className="mt-6">
          <h2 id="recalls" className="mb-2 text-lg">
            Look again
          </h2>
          <ul className="grid gap-2">
            {recalls.map((r) => (
              <li key={r.id}>
                <Link
                  href={`/jobs/${r.id}`}
                  className="flex flex-wrap gap-x-4 rounded-xl border border-line bg-surface px-4 py-2 hover:border-edge"
                >
                  <strong className="min-w-0 flex-1 truncate">
                    <span className="text-muted">{jobNumber(r.id)}</span> {r.label}
                  </strong>
                  <span className="text-muted">
                    {gradeWords[r.grade]} · look again on {r.on}
                  </span>
                </Link>
              </li>
            ))}
          </ul>
        </section>
      )}
    </main>
  );
}

function JobLine({ job, now }: { job: BenchJob; now: string }) {
  const waits = job.waitingFor !== null && (job.waitingUntil === null || job.waitingUntil > now);
  return (
    <li>
      <Link
        href={`/jobs/${job.id}`}
        className={`grid items-center gap-x-4 gap-y-1 rounded-xl border px-4 py-2 hover:border-edge sm:grid-cols-[150px_minmax(0,1.3fr)_minmax(0,1fr)_minmax(0,1fr)] ${
          job.hazard ? 'border-decide bg-decide-soft' : 'border-line bg-surface'
        }`}
      >
        <span className="hidden h-[34px] sm:block">
          {job.silhouette ? (
            <Silhouette
              path={job.silhouette}
              label={`Last run: ${job.pattern ?? 'not recognised'}`}
              className="h-full w-[150px]"
            />
          ) : (
            <span className="flex h-full items-center border-b-2 border-dotted border-line text-sm text-muted">
              no run yet
            </span>
          )}
        </span>
        <span className="min-w-0">
          <span className="block truncate font-bold">
            <span className="text-muted">{jobNumber(job.id)}</span> {job.label}
          </span>
          <span className="block truncate text-sm text-muted">
            {classWords[job.deviceClass]} · “{job.complaint || 'no complaint noted'}”
          </span>
        </span>
        <span className="min-w-0">
          <span className="block truncate">{job.call ?? 'no call yet'}</span>
          <span className="block truncate text-sm text-muted">{job.pattern ?? 'nothing recorded'}</span>
        </span>
        <span className="min-w-0">
          <span className="block truncate">
            {waits ? (
              <>
                <Clock size={15} className="mr-1 inline" aria-hidden />
                {job.waitingFor}
              </>
            ) : (
              job.next
            )}
          </span>
          <span
            className={`block truncate text-sm ${job.isOverdue || job.hazard ? 'font-semibold text-decide' : 'text-muted'}`}
          >
            {waits && job.waitingUntil ? (
              <>
                until <LocalDate iso={job.waitingUntil} time />
              </>
            ) : (
              <>
                {job.stage} · {job.why}
                {job.dueAt && (
                  <>
                    , due <LocalDate iso={job.dueAt} />
                  </>
                )}
              </>
            )}
          </span>
        </span>
      </Link>
    </li>
  );
}
