import { connection } from 'next/server';
import { loadBench } from '@/features/day/queries';
import { WallView } from '@/features/day/wall-view';
import { currentSheet } from '@/server/work/day/sheet';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Wall' };

export default async function WallPage() {
  await signedIn();
  await connection();
  const now = new Date();
  const [bench, sheet] = await Promise.all([loadBench(now), currentSheet(now)]);
  return <WallView bench={bench} sheet={sheet} />;
}
