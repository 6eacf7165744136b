'use client';

import { setTrashed } from '@/features/job/actions';
import { useSave } from '@/ui/kit/use-save';
import { eraseForGood } from './actions';

/** Jobs in the trash: put back, or deleted for good. */
export function Trash({ jobs }: { jobs: readonly { id: number; label: string; since: string }[] }) {
  const { saving, save } = useSave();
  return (
    <section aria-label="Trash" className="card grid gap-2">
      <h2 className="text-lg">Trash</h2>
      {jobs.length === 0 && <p className="text-sm text-muted">Nothing is in the trash.</p>}
      <ul className="grid max-h-72 gap-1 overflow-y-auto">
        {jobs.map((job) => (
          <li key={job.id} className="flex flex-wrap items-center gap-2 border-b border-line pb-1 last:border-0">
            <span className="min-w-0 flex-1">
              <span className="block truncate font-semibold" title={job.label}>
                {job.id} · {job.label}
              </span>
              <span className="text-sm text-muted">since {job.since}</span>
            </span>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() =>
                save(() => setTrashed({ jobId: job.id, trashed: false }), { done: `Job ${job.id} is back.` })
              }
            >
              Put back
            </button>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => {
                if (
                  window.confirm(
                    `Job ${job.id}, its runs, pictures and verdicts are gone afterwards, and nothing brings them back but a backup. Delete it for good?`,
                  )
                )
                  save(() => eraseForGood(job.id), { done: `Job ${job.id} is deleted for good.` });
              }}
            >
              Delete for good
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
