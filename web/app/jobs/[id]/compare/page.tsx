import { notFound } from 'next/navigation';
import { CompareView } from '@/features/compare/compare-view';
import { loadCompareView } from '@/features/compare/view';
import { ExpectedError } from '@/server/platform/errors';
import { signedIn } from '@/server/people/access';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ runs?: string | string[]; at?: string | string[]; of?: string | string[] }>;
}

export const metadata = { title: 'Compare' };

export default async function ComparePage({ params, searchParams }: Props) {
  await signedIn();
  const { id } = await params;
  const { runs, at, of } = await searchParams;
  if (!/^\d{1,9}$/.test(id)) notFound();
  const wanted = typeof runs === 'string' ? [...new Set(runs.split(','))].filter(Boolean) : [];
  const view = await loadCompareView(
    Number(id),
    wanted,
    typeof at === 'string' ? at : null,
    typeof of === 'string' ? of : null,
  ).catch((error: unknown) => {
    if (error instanceof ExpectedError && error.kind === 'missing') notFound();
    throw error;
  });
  return <CompareView view={view} />;
}
