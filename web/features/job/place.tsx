import Link from '@/ui/link';
import { notFound, redirect } from 'next/navigation';
import type { ReactNode } from 'react';
import { latestAssessment } from '@/server/jobs/jobs';
import { db } from '@/server/platform/db';
import { ExpectedError } from '@/server/platform/errors';
import { jobPlaces, type JobPlace } from './places';
import { isUncalled } from '@/server/practice/uncalled';
import { stateView } from '@/features/words';
import { StateLine } from './state-line';

/**
 * What a place of a job shows; the page that says so where there is no such job. Places that say what the engine thinks are
 * closed to a unit to practise on until it was called.
 */
export async function loadPlace<T>(place: JobPlace, id: string, load: (jobId: number) => Promise<T>): Promise<T> {
  if (!/^\d{1,9}$/.test(id)) notFound();
  if (!jobPlaces[place].isOpenBeforeCall && (await isUncalled(db(), Number(id)))) redirect(`/jobs/${id}?first=call`);
  return load(Number(id)).catch((error: unknown) => {
    if (error instanceof ExpectedError && error.kind === 'missing') notFound();
    throw error;
  });
}

/** The frame of a place of a job: its name, the job's, the way back, and how the device is now. */
export async function Place({
  place,
  title,
  jobId,
  children,
}: {
  place: JobPlace;
  title: string;
  jobId: number;
  children: ReactNode;
}) {
  const isHidden = await isUncalled(db(), jobId);
  const state = isHidden ? null : stateView((await latestAssessment(db(), jobId))?.result ?? null);
  return (
    <main className="mx-auto max-w-[1600px] px-4 pb-6">
      <div className="flex flex-wrap items-baseline gap-x-4 pt-2.5 print:hidden">
        <h1 className="min-w-0 truncate text-xl" title={title}>
          {jobPlaces[place].name} · {title}
        </h1>
        <Link href={`/jobs/${jobId}`} className="underline decoration-edge underline-offset-2">
          back to the job
        </Link>
        <StateLine state={state} className="basis-full" />
      </div>
      {children}
    </main>
  );
}
