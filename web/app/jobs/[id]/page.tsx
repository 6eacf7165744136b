import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { Workspace } from '@/features/workspace/workspace';
import { loadJobView } from '@/features/job/view';
import { jobNumber } from '@/features/words';
import { followUp } from '@/server/jobs/reassess';
import { ExpectedError } from '@/server/platform/errors';
import { signedIn } from '@/server/people/access';

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
  const { person } = await signedIn();
  const { id } = await params;
  const { run, at } = await searchParams;
  if (!/^\d{1,9}$/.test(id)) notFound();
  await followUp(Number(id));
  const view = await loadJobView(Number(id), typeof run === 'string' ? run : null, person.id).catch(
    (error: unknown) => {
      if (error instanceof ExpectedError && error.kind === 'missing') notFound();
      throw error;
    },
  );
  const pointed = typeof at === 'string' ? stretchOf(at) : null;
  const chosen = view.chosen && { ...view.chosen, pointed };
  return <Workspace view={{ ...view, chosen }} me={person} />;
}
