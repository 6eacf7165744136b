import { TeachView } from '@/features/settings/teach';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Teach a language' };

interface Props {
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

/** Where an unknown meter's language is found out, from its bytes and its display. */
export default async function TeachPage({ searchParams }: Props) {
  await signedIn();
  const query = await searchParams;
  const text = (name: string): string => (typeof query[name] === 'string' ? query[name] : '');
  const bench = Number(text('bench'));
  return (
    <main className="mx-auto max-w-[1200px] px-4 pb-8">
      <TeachView at={text('at')} baud={text('baud')} benchId={Number.isInteger(bench) && bench > 0 ? bench : null} />
    </main>
  );
}
