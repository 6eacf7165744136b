import { MeasureBoard } from '@/features/measure/measure-view';
import { loadMeasureView } from '@/features/measure/view';
import { loadPlace, Place } from '@/features/job/place';
import { PracticeProbe } from '@/features/practice/rail-tools';
import { db } from '@/server/record/db';
import { loadOwnBench } from '@/server/work/practice/view';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Measure' };

export default async function MeasurePage({ params }: { params: Promise<{ id: string }> }) {
  const { person } = await signedIn();
  const view = await loadPlace('measure', (await params).id, loadMeasureView);
  const bench = await loadOwnBench(db(), view.jobId, person.id);
  return (
    <Place place="measure" title={view.title} jobId={view.jobId}>
      {bench && <PracticeProbe jobId={view.jobId} bench={bench} />}
      <MeasureBoard view={view} />
    </Place>
  );
}
