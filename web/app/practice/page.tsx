import { connection } from 'next/server';
import { PracticeView } from '@/features/practice/home-view';
import { signedIn } from '@/server/work/people/access';
import { loadPracticeHome } from '@/server/work/practice/home';

export const metadata = { title: 'Practice' };

export default async function PracticePage() {
  const { person } = await signedIn();
  await connection();
  return <PracticeView home={await loadPracticeHome(person, new Date())} isLead={person.role === 'lead'} />;
}
