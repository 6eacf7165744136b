import { scorecardGroups } from '@umbral/core';
import { loadScorecard } from '@/features/scorecard/queries';
import { ScorecardView } from '@/features/scorecard/scorecard-view';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Scorecard' };

export const dynamic = 'force-dynamic';

export default async function ScorecardPage({ searchParams }: { searchParams: Promise<{ by?: string }> }) {
  const { person } = await signedIn();
  const { by } = await searchParams;
  const group = scorecardGroups.find((g) => g === by) ?? 'pattern';
  return <ScorecardView view={await loadScorecard(group)} isLead={person.role === 'lead'} />;
}
