import Link from '@/ui/link';
import { notFound, redirect } from 'next/navigation';
import type { ReactNode } from 'react';
import { latestAssessment } from '@/server/work/jobs/jobs';
import { db } from '@/server/record/db';
import { AccessError, ExpectedError } from '@/server/record/errors';
import { signedIn } from '@/server/work/people/access';
import type { Person } from '@/server/record/actor';
import { refuseOthersUnit } from '@/server/work/jobs/own-unit';
import { jobPlaces, type JobPlace } from './places';
import { isUncalled } from '@/server/work/jobs/uncalled';
import { stateView } from '@/features/words';
import { StateLine } from './state-line';

/**
 * What a page of a job shows to whoever is signed in; the page that says so where there is no such job, or where it is a unit
 * that somebody else practises on.
 */
export async function loadOfJob<T>(id: string, load: (jobId: number, person: Person) => Promise<T>): Promise<T> {
  const { person } = await signedIn();
  if (!/^\d{1,9}$/.test(id)) notFound();
  try {
    await refuseOthersUnit(db(), Number(id), person);
    return await load(Number(id), person);
  } catch (error) {
    const isGone = error instanceof ExpectedError && error.kind === 'missing';
    if (isGone || (error instanceof AccessError && error.kind === 'forbidden')) notFound();
    throw error;
  }
}

/** The same for a place under a job. Those that say what the engine thinks are closed to a practice unit until it was called. */
export const loadPlace = <T,>(place: JobPlace, id: string, load: (jobId: number) => Promise<T>): Promise<T> =>
  loadOfJob(id, async (jobId) => {
    if (!jobPlaces[place].isOpenBeforeCall && (await isUncalled(db(), jobId))) redirect(`/jobs/${id}?first=call`);
    return load(jobId);
  });

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
