import { notFound } from 'next/navigation';
import { BoardMap } from '@/features/board/board-map';
import { loadBoard } from '@/features/board/view';
import Link from '@/ui/link';
import { db } from '@/server/record/db';
import { signedIn } from '@/server/work/people/access';
import { findProfile } from '@/server/work/shop/profiles';

export const metadata = { title: 'Board map' };

/** The map of a model's board: pictures, points, and where earlier causes were. */
export default async function BoardPage({ params }: { params: Promise<{ id: string }> }) {
  await signedIn();
  const known = await findProfile(db(), (await params).id);
  if (!known) notFound();
  const { profile } = known;
  const of = { model: profile.id, modelName: profile.name, profile, jobId: null };
  const board = await loadBoard(db(), of);
  return (
    <main className="mx-auto flex min-h-[calc(100dvh-4.5rem)] max-w-[1600px] flex-col px-4 pb-4">
      <div className="flex flex-wrap items-baseline gap-x-4 py-2.5">
        <h1 className="text-xl">Board map · {profile.name}</h1>
        <Link href={`/models/${profile.id}`} className="underline decoration-edge underline-offset-2">
          back to the model
        </Link>
      </div>
      <BoardMap board={board} />
    </main>
  );
}
