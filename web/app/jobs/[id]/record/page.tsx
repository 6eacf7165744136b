import { LiveBench } from '@/features/live/live-bench';
import { loadLiveView } from '@/features/live/view';
import { loadPlace, Place } from '@/features/job/place';

export const metadata = { title: 'Record' };

export default async function RecordPage({ params }: { params: Promise<{ id: string }> }) {
  const view = await loadPlace('record', (await params).id, loadLiveView);
  return (
    <Place place="record" title={view.title} jobId={view.jobId}>
      <LiveBench view={view} />
    </Place>
  );
}
