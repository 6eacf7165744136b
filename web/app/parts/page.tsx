import { connection } from 'next/server';
import { PartsView } from '@/features/parts/parts-view';
import { loadDonors } from '@/server/work/day/donors';
import { loadParts } from '@/server/work/day/parts';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Parts' };

export default async function PartsPage() {
  await signedIn();
  await connection();
  const [parts, donors] = await Promise.all([loadParts(db()), loadDonors(db())]);
  return <PartsView parts={parts} donors={donors} />;
}
