'use client';

import { useState } from 'react';
import Link from '@/ui/link';
import { useSave } from '@/ui/kit/use-save';
import { keepTaught, readDialectText } from './actions';
import type { SettingsViewData } from './view';

/** The languages that instruments of this bench may speak: as files for other shops, and files from there. */
export function Languages({ dialects }: Pick<SettingsViewData, 'dialects'>) {
  const { saving, save } = useSave();
  const [problem, setProblem] = useState('');
  const download = (id: string): void => {
    setProblem('');
    void readDialectText({ benchId: null, id }).then((result) => {
      if (!result.ok) return setProblem(result.message);
      const link = document.createElement('a');
      link.href = URL.createObjectURL(new Blob([result.value.text], { type: 'application/json' }));
      link.download = `${id}.json`;
      link.click();
      setTimeout(() => URL.revokeObjectURL(link.href), keptMs);
    });
  };
  const take = async (file: File | undefined): Promise<void> => {
    if (!file) return;
    setProblem('');
    const text = await file.text();
    save(() => keepTaught({ benchId: null, text }), {
      done: `${file.name} was added.`,
      failed: (why) => setProblem(`${file.name}: ${why}`),
    });
  };
  return (
    <details className="text-sm">
      <summary>Languages ({dialects.length})</summary>
      <p className="max-w-[70ch] pt-1 text-muted">
        A language is a file that other shops can use. A meter in an unknown language can be taught.
      </p>
      <ul aria-label="Languages" className="grid gap-0.5 pt-1">
        {dialects.map(({ id, name }) => (
          <li key={id} className="flex flex-wrap items-baseline gap-x-3">
            <span>{name}</span>
            <button type="button" className="underline" aria-label={`Download ${name}`} onClick={() => download(id)}>
              {id}.json
            </button>
          </li>
        ))}
      </ul>
      <div className="flex flex-wrap gap-2 pt-2">
        <label className="button cursor-pointer" aria-disabled={saving}>
          Add a language file
          <input
            type="file"
            accept=".json"
            className="sr-only"
            onChange={(e) => {
              void take(e.target.files?.[0]);
              e.target.value = '';
            }}
          />
        </label>
        <Link className="button" href="/settings/teach">
          Teach a language
        </Link>
      </div>
      {problem && (
        <p role="alert" className="pt-1 text-decide">
          {problem}
        </p>
      )}
    </details>
  );
}

/** Until the browser has taken the file. */
const keptMs = 10_000;
