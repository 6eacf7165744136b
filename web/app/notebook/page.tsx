import { deviceClasses } from '@umbral/core';
import { loadNotebookPage } from '@/features/notebook/queries';
import { NotebookView } from '@/features/notebook/notebook-view';
import { signedIn } from '@/server/work/people/access';

export const metadata = { title: 'Notebook' };

export const dynamic = 'force-dynamic';

export default async function NotebookPage({
  searchParams,
}: {
  searchParams: Promise<{ q?: string; model?: string; kind?: string }>;
}) {
  const { person } = await signedIn();
  const { q, model, kind } = await searchParams;
  const ofKind = deviceClasses.find((c) => c === kind) ?? null;
  return <NotebookView view={await loadNotebookPage(q ?? '', model ?? null, ofKind)} isLead={person.role === 'lead'} />;
}
