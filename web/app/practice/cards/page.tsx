import { connection } from 'next/server';
import { CardsView } from '@/features/practice/cards-view';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';
import { loadCards } from '@/server/work/practice/cards';

export const metadata = { title: 'Pattern drill' };

const round = 10;

export default async function CardsPage() {
  const { person } = await signedIn();
  await connection();
  return <CardsView cards={await loadCards(db(), person.id, round, Math.random)} />;
}
