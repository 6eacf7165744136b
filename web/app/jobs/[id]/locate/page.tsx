import { LocateBoard } from '@/features/locate/locate-view';
import { loadLocateView } from '@/features/locate/view';
import { loadPlace, Place } from '@/features/job/place';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Locate' };

export default async function LocatePage({ params }: { params: Promise<{ id: string }> }) {
  await signedIn();
  const view = await loadPlace((await params).id, loadLocateView);
  return (
    <Place name="Locate" title={view.title} jobId={view.jobId}>
      <LocateBoard view={view} />
    </Place>
  );
}
