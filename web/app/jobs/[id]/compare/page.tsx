import { CompareView } from '@/features/compare/compare-view';
import { loadCompareView } from '@/features/compare/view';
import { loadPlace } from '@/features/job/place';

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ runs?: string | string[]; at?: string | string[]; of?: string | string[] }>;
}

export const metadata = { title: 'Compare' };

export default async function ComparePage({ params, searchParams }: Props) {
  const { id } = await params;
  const { runs, at, of } = await searchParams;
  const wanted = typeof runs === 'string' ? [...new Set(runs.split(','))].filter(Boolean) : [];
  const [asked, other] = [at, of].map((text) => (typeof text === 'string' ? text : null));
  const view = await loadPlace('compare', id, (jobId) => loadCompareView(jobId, wanted, asked, other));
  return <CompareView view={view} />;
}
