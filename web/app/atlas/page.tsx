import { AtlasView } from '@/features/atlas/atlas-view';
import { loadOverview } from '@/features/atlas/queries';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Atlas' };

export const dynamic = 'force-dynamic';

export default async function AtlasPage({ searchParams }: { searchParams: Promise<{ job?: string }> }) {
  const { person } = await signedIn();
  const { job } = await searchParams;
  const number = Number(job ?? '');
  const ofJob = Number.isInteger(number) && number > 0 ? number : null;
  return <AtlasView job={ofJob} overview={await loadOverview()} isLead={person.role === 'lead'} />;
}
