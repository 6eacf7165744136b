'use client';

import { countOf } from '@umbral/core/words';
import { useRouter } from '@/ui/router';
import { useState } from 'react';
import { reassessJob } from '@/features/job/actions';

const unreachable = { ok: false, message: 'the server could not be reached; nothing changed.' } as const;

/** Verdicts that an older engine made, and making them anew one after the other. */
export function OldVerdicts({ jobs }: { jobs: readonly number[] }) {
  const [done, setDone] = useState<number | null>(null);
  const [problems, setProblems] = useState<string[]>([]);
  const router = useRouter();
  const isRunning = done !== null && done < jobs.length;
  const start = async (): Promise<void> => {
    const failed: string[] = [];
    setProblems([]);
    for (const [k, jobId] of jobs.entries()) {
      setDone(k);
      const result = await reassessJob({ jobId }).catch(() => unreachable);
      if (!result.ok) failed.push(`Job ${jobId}: ${result.message}`);
    }
    setDone(null);
    setProblems(failed);
    router.refresh();
  };
  return (
    <section aria-label="Verdicts" className="card grid gap-2 p-4">
      <h2 className="text-xl">Verdicts</h2>
      {jobs.length === 0 ? (
        <p className="text-muted">Every open job has a verdict from the current engine.</p>
      ) : (
        <>
          <p>
            {countOf(jobs.length, 'open job was', 'open jobs were')} assessed by an older engine. Old verdicts stay in
            the job history.
          </p>
          <p>
            <button type="button" className="button button-main" disabled={isRunning} onClick={() => void start()}>
              {isRunning ? `Assessing ${done + 1} of ${jobs.length} …` : 'Reassess all'}
            </button>
          </p>
          {isRunning && <progress className="w-full" max={jobs.length} value={done} />}
        </>
      )}
      {problems.map((p) => (
        <p key={p} role="alert" className="text-sm text-decide">
          {p}
        </p>
      ))}
    </section>
  );
}
