'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import { Download, NotebookPen, Printer } from 'lucide-react';
import Link, { useGo } from '@/ui/link';
import { useState } from 'react';
import { useSave } from '@/ui/kit/use-save';
import { Empty } from '@/ui/parts';
import { renameModelTo } from './actions';
import { NotebookLines } from './lines';
import { emptyNote, NoteDialog } from './note-dialog';
import type { NoteForm, NotebookPageView } from './queries';

/** The notebook of the shop: type a number, and read what it was. */
export function NotebookView({ view, isLead }: { view: NotebookPageView; isLead: boolean }) {
  const go = useGo();
  const [asked, setAsked] = useState(view.asked);
  const [open, setOpen] = useState<NoteForm | null>(null);
  const here = (q: string, model: string | null, kind: string | null = view.kind): string => {
    const query = new URLSearchParams({ ...(q ? { q } : {}), ...(model ? { model } : {}), ...(kind ? { kind } : {}) });
    return `/notebook?${query}`;
  };
  const isEmpty = view.models.length === 0;
  return (
    <main className="mx-auto max-w-[1080px] px-4 py-4">
      <div className="flex flex-wrap items-center gap-2">
        <h1 className="mr-auto text-2xl">Notebook{view.model ? `: ${view.model}` : ''}</h1>
        <button
          type="button"
          className="button print:hidden"
          onClick={() => setOpen({ ...emptyNote, model: view.model ?? '' })}
        >
          <NotebookPen size={17} aria-hidden /> Add a line
        </button>
        <button type="button" className="button print:hidden" onClick={() => print()}>
          <Printer size={17} aria-hidden /> Print
        </button>
        <a className="button print:hidden" href="/api/notebook" download>
          <Download size={17} aria-hidden /> CSV
        </a>
      </div>
      <form
        role="search"
        className="mt-3 flex gap-2 print:hidden"
        onSubmit={(e) => {
          e.preventDefault();
          go(here(asked, view.model));
        }}
      >
        <input
          className="field text-2xl"
          // Whoever comes here has a number in mind.
          autoFocus
          aria-label="Level or words"
          placeholder="0.19 A"
          inputMode="text"
          enterKeyHint="search"
          value={asked}
          onChange={(e) => setAsked(e.target.value)}
        />
        <button type="submit" className="button button-main whitespace-nowrap">
          Search
        </button>
      </form>
      {view.kinds.length > 1 && (
        <nav aria-label="Kinds of device" className="mt-2 flex gap-1.5 overflow-x-auto pb-1 sm:flex-wrap print:hidden">
          <Chip href={here(view.asked, null, null)} isHere={view.kind === null}>
            all kinds
          </Chip>
          {view.kinds.map((k) => (
            <Chip key={k.id} href={here(view.asked, null, k.id)} isHere={k.id === view.kind}>
              {k.name} <span className="opacity-75">{k.cases}</span>
            </Chip>
          ))}
        </nav>
      )}
      {!isEmpty && (
        <nav aria-label="Models" className="mt-2 flex gap-1.5 overflow-x-auto pb-1 sm:flex-wrap print:hidden">
          <Chip href={here(view.asked, null)} isHere={view.model === null}>
            all models
          </Chip>
          {view.models.map((m) => (
            <Chip key={m.name} href={here(view.asked, m.name)} isHere={m.name === view.model}>
              {m.name} <span className="opacity-75">{m.cases}</span>
            </Chip>
          ))}
        </nav>
      )}
      {view.model !== null && isLead && <RenameModel key={view.model} model={view.model} />}
      {isEmpty && (
        <Empty title="The notebook is empty">
          <p>
            Every job closed with its cause adds a line automatically. Add what you already know: this level, in this
            setup, was that circuit.
          </p>
        </Empty>
      )}
      {!isEmpty && view.lines.length === 0 && (
        <Empty title="No match">
          <p>No line is close to {view.asked || 'it'}. Try another model, or fewer words.</p>
        </Empty>
      )}
      {view.problem && (
        <p role="status" className="mt-3 text-decide">
          {view.problem}
        </p>
      )}
      {view.isClosest && (
        <p role="status" className="mt-3 text-muted">
          No line at this level. These are the closest.
        </p>
      )}
      <div className="mt-3">
        <NotebookLines lines={view.lines} onCorrect={(id) => setOpen(view.notes.find((n) => n.id === id) ?? null)} />
        {view.more > 0 && (
          <p className="mt-2 text-muted">and {view.more} more lines. Type a level to see the closest.</p>
        )}
        {view.isCut && (
          <p className="mt-2 text-muted">
            There are too many cases for one page. These lines are {view.asked ? 'the closest' : 'the newest'}. Choose a
            model to see all of its lines.
          </p>
        )}
      </div>
      {view.good.length > 0 && (
        <section aria-label="Known-good boards" className="card mt-3">
          <h2 className="text-lg">Readings of known-good boards</h2>
          <dl className="mt-1 grid gap-x-6 sm:grid-cols-2">
            {view.good.map((g, k) => (
              <div key={k} className="flex justify-between gap-3 border-b border-line py-0.5">
                <dt>{g.where}</dt>
                <dd>{g.says}</dd>
              </div>
            ))}
          </dl>
        </section>
      )}
      {open && <NoteDialog note={open} models={view.models.map((m) => m.name)} onClose={() => setOpen(null)} />}
    </main>
  );
}

function Chip({ href, isHere, children }: { href: string; isHere: boolean; children: React.ReactNode }) {
  return (
    <Link
      href={href}
      aria-current={isHere ? 'true' : undefined}
      className={`chip inline-flex min-h-9 shrink-0 items-center gap-1 ${isHere ? 'bg-umbra text-paper' : 'bg-raised hover:border-edge'}`}
    >
      {children}
    </Link>
  );
}

/** Another name for a model, everywhere it stands. */
function RenameModel({ model }: { model: string }) {
  const [name, setName] = useState(model);
  const [problem, setProblem] = useState<string | null>(null);
  const { saving, save } = useSave();
  const go = useGo();
  return (
    <details className="mt-2 text-sm print:hidden">
      <summary className="min-h-9 py-1.5">Rename this model</summary>
      <form
        className="flex flex-wrap items-center gap-2"
        onSubmit={(e) => {
          e.preventDefault();
          save(() => renameModelTo({ from: model, to: name }), {
            done: `Now ${name}, in its jobs as well.`,
            then: () => go(`/notebook?model=${encodeURIComponent(name)}`),
            failed: setProblem,
          });
        }}
      >
        <input
          className="field w-64"
          aria-label="New name of the model"
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <GatedButton
          type="submit"
          className="button"
          disabled={saving}
          blocked={name.trim() === model ? 'Type another name first' : null}
        >
          Rename everywhere
        </GatedButton>
        <span className="text-muted">If the name exists, the two are merged.</span>
      </form>
      {problem && <p role="alert">{problem}</p>}
    </details>
  );
}
