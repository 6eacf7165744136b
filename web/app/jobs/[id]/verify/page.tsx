import { loadPlace, Place } from '@/features/job/place';
import { VerifyBoard } from '@/features/verify/verify-view';
import { loadVerifyView } from '@/features/verify/view';

export const metadata = { title: 'Verify' };

export default async function VerifyPage({ params }: { params: Promise<{ id: string }> }) {
  const view = await loadPlace('verify', (await params).id, loadVerifyView);
  return (
    <Place place="verify" title={view.title} jobId={view.jobId}>
      <VerifyBoard view={view} />
    </Place>
  );
}
