import { LocateBoard } from '@/features/locate/locate-view';
import { loadLocateView } from '@/features/locate/view';
import { loadPlace, Place } from '@/features/job/place';
import { PracticeFeed } from '@/features/practice/rail-tools';
import { db } from '@/server/record/db';
import { loadOwnBench } from '@/server/work/practice/view';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Locate' };

export default async function LocatePage({ params }: { params: Promise<{ id: string }> }) {
  const { person } = await signedIn();
  const view = await loadPlace('locate', (await params).id, loadLocateView);
  const bench = await loadOwnBench(db(), view.jobId, person.id);
  return (
    <Place place="locate" title={view.title} jobId={view.jobId}>
      {bench && <PracticeFeed jobId={view.jobId} bench={bench} />}
      <LocateBoard view={view} />
    </Place>
  );
}
