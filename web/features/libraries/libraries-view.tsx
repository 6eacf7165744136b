'use client';

import { GatedButton } from '@/ui/kit/gated-button';
import Link from '@/ui/link';
import { useRouter } from '@/ui/router';
import { useRef, useState } from 'react';
import { countOf } from '@umbral/core/words';
import { useSave } from '@/ui/kit/use-save';
import type { Imported, ListedLibrary } from '@/server/work/exchange/exchange';
import { Hazard } from '@/ui/parts';
import { postFile } from '@/ui/upload';
import { useToast } from '@/ui/toast';
import { bringLibraryBack, takeLibraryOut } from './actions';
import { TextField } from '@/ui/kit/fields';

/** Libraries of other shops, and this one's for them. */
export function LibrariesView({
  libraries,
  fingerprint,
}: {
  libraries: readonly ListedLibrary[];
  fingerprint: string;
}) {
  return (
    <main className="mx-auto max-w-[1000px] px-4 py-4">
      <p>
        <Link href="/atlas" className="underline">
          Atlas
        </Link>
      </p>
      <h1 className="text-2xl">Libraries</h1>
      <p className="text-muted">
        Confirmed cases that shops share: models, circuits, parts, run shapes and board maps. They contain no labels,
        serial numbers, complaints or personal names.
      </p>
      <div className="mt-3 grid gap-3 md:grid-cols-2">
        <ImportCard />
        <ExportCard fingerprint={fingerprint} />
      </div>
      <section aria-label="Imported" className="card mt-3">
        <h2 className="text-lg">Imported</h2>
        {libraries.length === 0 && (
          <p className="text-muted">
            None yet. Imported cases count half as much as your own and show where they come from.
          </p>
        )}
        <ul className="grid gap-2">
          {libraries.map((l) => (
            <Listed key={l.id} library={l} />
          ))}
        </ul>
      </section>
    </main>
  );
}

function Listed({ library }: { library: ListedLibrary }) {
  const { saving, save } = useSave();
  const toast = useToast();
  return (
    <li className="flex flex-wrap items-center justify-between gap-2 border-t border-line pt-1.5 first:border-0">
      <span className="min-w-0">
        <strong>{library.shop}</strong> · {library.cases} cases, {library.notes} lines · of {library.madeAt}
        <span className="block text-sm break-words text-muted">
          Licence: {library.licence} · key {library.fingerprint}
        </span>
      </span>
      <button
        type="button"
        className="button"
        disabled={saving}
        onClick={() =>
          save(() => takeLibraryOut(library.id), {
            then: () =>
              toast({
                tone: 'done',
                text: `The library of ${library.shop} was removed.`,
                undo: () =>
                  save(() => bringLibraryBack(library.id), { done: `The library of ${library.shop} is back.` }),
              }),
          })
        }
      >
        Remove
      </button>
    </li>
  );
}

function ImportCard() {
  const input = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<File | null>(null);
  const [share, setShare] = useState<number | null>(null);
  const [came, setCame] = useState<Imported | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const router = useRouter();
  const send = async (chosen: File, trusted: string): Promise<void> => {
    setProblem(null);
    setShare(0);
    const query = new URLSearchParams({ name: chosen.name, trusted });
    const result = await postFile<Imported>(`/api/libraries?${query}`, chosen, setShare).promise;
    setShare(null);
    setCame(result.ok ? result.value : null);
    if (result.ok) router.refresh();
    else setProblem(result.message);
  };
  return (
    <section aria-label="Import a library" className="card grid content-start gap-2">
      <h2 className="text-lg">Import a library</h2>
      <input
        ref={input}
        type="file"
        className="sr-only"
        tabIndex={-1}
        aria-label="Library"
        onChange={(e) => {
          const chosen = e.target.files?.[0] ?? null;
          e.target.value = '';
          setFile(chosen);
          if (chosen) void send(chosen, '');
        }}
      />
      <p>
        <button type="button" className="button" disabled={share !== null} onClick={() => input.current?.click()}>
          {share === null ? 'Choose a library' : 'Reading …'}
        </button>
      </p>
      {share !== null && <progress className="w-full" max={1} value={share} />}
      {problem && (
        <p role="alert" className="rounded-lg border border-decide bg-decide-soft px-3 py-2 text-sm break-words">
          {problem}
        </p>
      )}
      {came?.state === 'unknown' && file && (
        <div className="grid gap-2">
          <Hazard>
            It says it belongs to {came.shop}, but its key is not known here. Ask them to read out their key. Trust it
            only if the keys match.
          </Hazard>
          <p className="text-lg break-words tabular-nums">{came.fingerprint}</p>
          <p className="text-sm">
            {countOf(came.cases, 'new case')} and {countOf(came.notes, 'line')}.
            {came.known > 0 && ` ${countOf(came.known, 'case')} more ${came.known === 1 ? 'is' : 'are'} here already.`}
          </p>
          <p className="text-sm">Licence: {came.licence}</p>
          <p>
            <button type="button" className="button button-main" onClick={() => void send(file, came.fingerprint)}>
              The keys match. Import
            </button>
          </p>
        </div>
      )}
      {came?.state === 'taken' && (
        <p role="status">
          {came.cases} cases and {came.notes} lines were imported
          {came.boards > 0 && `, and ${countOf(came.boards, 'board map')}`}.
          {came.known > 0 && ` ${came.known} were already here.`}
          {came.otherwise.length > 0 &&
            ` Confirmed as a different cause there: ${came.otherwise.slice(0, 5).join(', ')}. Your own confirmation counts.`}
        </p>
      )}
    </section>
  );
}

function ExportCard({ fingerprint }: { fingerprint: string }) {
  const [shop, setShop] = useState('');
  const [licence, setLicence] = useState('For use at your own bench. Do not pass on.');
  const [pictures, setPictures] = useState(false);
  const query = new URLSearchParams({ shop, licence, ...(pictures ? { pictures: 'yes' } : {}) });
  return (
    <section aria-label="Export" className="card grid content-start gap-2">
      <h2 className="text-lg">Export your library</h2>
      <TextField label="Shop" value={shop} placeholder="name other shops know you by" onValue={setShop} />
      <TextField label="Licence" hint="what others may do with it" value={licence} onValue={setLicence} />
      <label className="flex min-h-9 items-center gap-2">
        <input type="checkbox" checked={pictures} onChange={(e) => setPictures(e.target.checked)} />
        with the pictures of board maps
      </label>
      <p>
        {shop.trim() === '' ? (
          <GatedButton type="button" className="button" blocked="Enter the name of your shop first">
            Export
          </GatedButton>
        ) : (
          <a className="button" href={`/api/libraries?${query}`} download>
            Export
          </a>
        )}
      </p>
      <p className="text-sm text-muted">Your key. Read it out to anyone who imports this library:</p>
      <p className="break-words tabular-nums">{fingerprint}</p>
    </section>
  );
}
