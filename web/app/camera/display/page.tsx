import { BenchDisplay } from '@/features/camera/bench-display';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Display' };

export const dynamic = 'force-dynamic';

export default async function DisplayPage() {
  await signedIn();
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <h1 className="text-2xl">Display of the simulated bench</h1>
      <p className="text-muted">
        The display of a simulated instrument. Point a camera at it to try out reading a display.
      </p>
      <BenchDisplay />
    </main>
  );
}
