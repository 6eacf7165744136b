import { CameraView } from '@/features/camera/camera-view';
import { loadCameras } from '@/server/edges/recorder/cameras';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Camera' };

export const dynamic = 'force-dynamic';

export default async function CameraPage({ searchParams }: { searchParams: Promise<{ instrument?: string }> }) {
  await signedIn();
  const { instrument } = await searchParams;
  return (
    <main className="mx-auto max-w-3xl px-4 py-4">
      <h1 className="text-2xl">Camera</h1>
      <CameraView cameras={await loadCameras()} wanted={typeof instrument === 'string' ? instrument : null} />
    </main>
  );
}
