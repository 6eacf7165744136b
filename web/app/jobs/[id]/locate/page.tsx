import Link from 'next/link';
import { notFound } from 'next/navigation';
import { LocateBoard } from '@/features/locate/locate-view';
import { loadLocateView } from '@/features/locate/view';
import { ExpectedError } from '@/server/errors';

interface Props {
  params: Promise<{ id: string }>;
}

export const metadata = { title: 'Locate' };

export default async function LocatePage({ params }: Props) {
  const { id } = await params;
  if (!/^\d{1,9}$/.test(id)) notFound();
  const view = await loadLocateView(Number(id)).catch((error: unknown) => {
    if (error instanceof ExpectedError && error.kind === 'missing') notFound();
    throw error;
  });
  return (
    <main className="mx-auto max-w-[1600px] px-4 pb-6">
      <div className="flex flex-wrap items-baseline gap-x-4 pt-2.5">
        <h1 className="min-w-0 truncate text-xl" title={view.title}>
          Locate · {view.title}
        </h1>
        <Link href={`/jobs/${view.jobId}`} className="underline decoration-edge underline-offset-2">
          back to the job
        </Link>
      </div>
      <LocateBoard view={view} />
    </main>
  );
}
