import { loadPlace, Place } from '@/features/job/place';
import { JobPartsView } from '@/features/parts/job-parts-view';
import { loadJobParts } from '@/server/work/day/job-parts';

export const metadata = { title: 'Parts' };

export default async function JobPartsPage({ params }: { params: Promise<{ id: string }> }) {
  const view = await loadPlace('parts', (await params).id, loadJobParts);
  return (
    <Place place="parts" title={view.label} jobId={view.jobId}>
      <JobPartsView view={view} />
    </Place>
  );
}
