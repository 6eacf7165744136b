import { AtlasView } from '@/features/atlas/atlas-view';
import { loadOverview, type AtlasFilter } from '@/features/atlas/queries';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Atlas' };

export const dynamic = 'force-dynamic';

type Asked = { job?: string; text?: string } & Partial<Record<AtlasFilter, string>>;

export default async function AtlasPage({ searchParams }: { searchParams: Promise<Asked> }) {
  const { person } = await signedIn();
  const { job, text = '', ...chosen } = await searchParams;
  const number = Number(job ?? '');
  const ofJob = Number.isInteger(number) && number > 0 ? number : null;
  return (
    <AtlasView
      key={JSON.stringify([text, chosen])}
      job={ofJob}
      asked={{ text, chosen }}
      overview={await loadOverview()}
      isLead={person.role === 'lead'}
    />
  );
}
