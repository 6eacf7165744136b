import type { Metadata } from 'next';
import { Workspace } from '@/features/workspace/workspace';
import { loadOfJob } from '@/features/job/place';
import { loadJobView } from '@/features/job/view';
import { jobNumber } from '@/features/words';
import { followUp } from '@/server/work/entries/reassess';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ run?: string | string[]; at?: string | string[] }>;
}

/** A stretch of a run from the address, as "3.5-12" in seconds; null for anything else. */
function stretchOf(text: string): [number, number] | null {
  const match = /^(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)$/.exec(text);
  return match ? [Number(match[1]), Number(match[2])] : null;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { id } = await params;
  return { title: /^\d{1,9}$/.test(id) ? `Job ${jobNumber(Number(id))}` : 'Job' };
}

export default async function JobPage({ params, searchParams }: Props) {
  const { id } = await params;
  const { run, at } = await searchParams;
  const { view, person } = await loadOfJob(id, async (jobId, person) => {
    await followUp(jobId);
    return { view: await loadJobView(jobId, typeof run === 'string' ? run : null, person.id), person };
  });
  const pointed = typeof at === 'string' ? stretchOf(at) : null;
  const chosen = view.chosen && { ...view.chosen, pointed };
  return <Workspace view={{ ...view, chosen }} me={person} />;
}
