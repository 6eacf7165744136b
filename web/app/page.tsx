import { connection } from 'next/server';
import { BenchView } from '@/features/bench/bench-view';
import { loadBench } from '@/features/day/queries';
import { currentSheet } from '@/server/work/day/sheet';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Bench' };

export default async function BenchPage() {
  const { person } = await signedIn();
  await connection();
  const now = new Date();
  const [bench, sheet] = await Promise.all([loadBench(now), currentSheet(now)]);
  return <BenchView bench={bench} sheet={sheet} personId={person.id} />;
}
