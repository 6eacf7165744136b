import { AtlasView } from '@/features/atlas/atlas-view';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Atlas' };

export default async function AtlasPage({ searchParams }: { searchParams: Promise<{ job?: string }> }) {
  const { person } = await signedIn();
  const { job } = await searchParams;
  const number = Number(job ?? '');
  return <AtlasView job={Number.isInteger(number) && number > 0 ? number : null} isLead={person.role === 'lead'} />;
}
