import { loadNotebookPage } from '@/features/notebook/queries';
import { NotebookView } from '@/features/notebook/notebook-view';
import { signedIn } from '@/server/people/access';

export const metadata = { title: 'Notebook' };

export const dynamic = 'force-dynamic';

export default async function NotebookPage({
  searchParams,
}: {
  searchParams: Promise<{ q?: string; model?: string }>;
}) {
  const { person } = await signedIn();
  const { q, model } = await searchParams;
  return <NotebookView view={await loadNotebookPage(q ?? '', model ?? null)} isLead={person.role === 'lead'} />;
}
