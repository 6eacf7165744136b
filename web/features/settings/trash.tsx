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
      {jobs.length === 0 && <p className="text-sm text-muted">The trash is empty.</p>}
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
                save(() => setTrashed({ jobId: job.id, trashed: false }), { done: `Job ${job.id} was restored.` })
              }
            >
              Restore
            </button>
            <button
              type="button"
              className="button min-h-9"
              disabled={saving}
              onClick={() => {
                if (
                  window.confirm(
                    `Job ${job.id}, its runs, pictures and verdicts will be deleted. Only a backup can bring them back. Delete it permanently?`,
                  )
                )
                  save(() => eraseForGood(job.id), { done: `Job ${job.id} was deleted permanently.` });
              }}
            >
              Delete permanently
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
