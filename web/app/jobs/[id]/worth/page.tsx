import { loadPlace, Place } from '@/features/job/place';
import { WorthView } from '@/features/worth/worth-view';
import { loadWorth } from '@/server/work/day/worth';

export const metadata = { title: 'Worth' };

export default async function WorthPage({ params }: { params: Promise<{ id: string }> }) {
  const worth = await loadPlace('worth', (await params).id, async (id) => ({ id, found: await loadWorth(id) }));
  return (
    <Place place="worth" title={worth.found?.label ?? ''} jobId={worth.id}>
      {worth.found ? (
        <WorthView worth={worth.found} />
      ) : (
        <p className="card mt-3">Nothing is known about it yet. Add a run, a check or a reading first.</p>
      )}
    </Place>
  );
}
