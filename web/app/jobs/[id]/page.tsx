import type { Metadata } from 'next';
import { notFound } from 'next/navigation';
import { Workspace } from '@/features/job/workspace';
import { loadJobView } from '@/features/job/view';
import { jobNumber } from '@/features/words';
import { followSources } from '@/server/anew';
import { ExpectedError } from '@/server/errors';
import { signedIn } from '@/server/people/access';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ run?: string | string[] }>;
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const { id } = await params;
  return { title: /^\d{1,9}$/.test(id) ? `Job ${jobNumber(Number(id))}` : 'Job' };
}

export default async function JobPage({ params, searchParams }: Props) {
  const { person } = await signedIn();
  const { id } = await params;
  const { run } = await searchParams;
  if (!/^\d{1,9}$/.test(id)) notFound();
  await followSources(Number(id));
  const view = await loadJobView(Number(id), typeof run === 'string' ? run : null).catch((error: unknown) => {
    if (error instanceof ExpectedError && error.kind === 'missing') notFound();
    throw error;
  });
  return <Workspace view={view} me={person} />;
}
