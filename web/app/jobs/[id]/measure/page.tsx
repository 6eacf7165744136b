import { MeasureBoard } from '@/features/measure/measure-view';
import { loadMeasureView } from '@/features/measure/view';
import { loadPlace, Place } from '@/features/job/place';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Measure' };

export default async function MeasurePage({ params }: { params: Promise<{ id: string }> }) {
  await signedIn();
  const view = await loadPlace((await params).id, loadMeasureView);
  return (
    <Place name="Measure" title={view.title} jobId={view.jobId}>
      <MeasureBoard view={view} />
    </Place>
  );
}
