import { notFound } from 'next/navigation';
import { connection } from 'next/server';
import { DayEndView } from '@/features/day/day-end-view';
import { loadDayEnd } from '@/server/work/day/day-end';
import { ExpectedError } from '@/server/record/errors';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Day' };

export default async function DayPage({ searchParams }: { searchParams: Promise<{ on?: string }> }) {
  await signedIn();
  await connection();
  const { on } = await searchParams;
  const end = await loadDayEnd(on).catch((error: unknown) => {
    if (error instanceof ExpectedError) notFound();
    throw error;
  });
  return <DayEndView end={end} />;
}
