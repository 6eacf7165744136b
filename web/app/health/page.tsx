import { HealthView } from '@/features/health/health-view';
import { loadHealth } from '@/server/edges/health';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Health' };

export const dynamic = 'force-dynamic';

export default async function HealthPage() {
  await signedIn('lead');
  return <HealthView health={await loadHealth()} />;
}
