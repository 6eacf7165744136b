import { connection } from 'next/server';
import { BenchView } from '@/features/bench/bench-view';
import { loadBench } from '@/features/bench/queries';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Bench' };

export default async function BenchPage() {
  await signedIn();
  await connection();
  const now = new Date();
  const bench = await loadBench(now);
  return <BenchView {...bench} now={now.toISOString()} />;
}
