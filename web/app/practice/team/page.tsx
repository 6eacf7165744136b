import { connection } from 'next/server';
import { TeamView } from '@/features/practice/team-view';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';
import { loadChoice } from '@/server/work/practice/home';
import { loadLearners, loadTeamUnit } from '@/server/work/practice/team';

export const metadata = { title: 'Skills by person' };

export default async function TeamPage() {
  const { person } = await signedIn('lead');
  await connection();
  const [learners, team, choice] = [
    await loadLearners(),
    await loadTeamUnit(db(), person.id, new Date()),
    await loadChoice(),
  ];
  return <TeamView learners={learners} team={team} choice={choice} />;
}
