'use client';

import Link from 'next/link';
import { useState } from 'react';
import { classWords, gradeWords, jobNumber } from '@/features/words';
import { LocalDate } from '@/features/bench/local-date';
import { Empty, Field } from '@/ui/parts';
import { Silhouette } from '@/ui/silhouette';
import type { AtlasCase } from './queries';

/** Closed cases as silhouettes: what it looked like, and what it was. */
export function AtlasView({ cases }: { cases: AtlasCase[] }) {
  const [text, setText] = useState('');
  const [pattern, setPattern] = useState('');
  const [circuit, setCircuit] = useState('');
  const shown = cases.filter(
    (c) =>
      (pattern === '' || c.patternId === pattern) &&
      (circuit === '' || c.circuit === circuit) &&
      `${c.label} ${c.model} ${c.target} ${c.fix} ${c.circuitName ?? ''}`.toLowerCase().includes(text.toLowerCase()),
  );
  const patterns = distinct(cases.map((c) => [c.patternId, c.pattern]));
  const circuits = distinct(cases.map((c) => [c.circuit, c.circuitName]));
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="mr-auto">
          <h1 className="text-2xl">Atlas</h1>
          <p className="text-muted">
            {cases.length === 1 ? 'One closed case' : `${cases.length} closed cases`}: what it looked like, and what it
            was.
          </p>
        </div>
        {cases.length > 0 && (
          <div className="grid w-full grid-cols-1 gap-2 sm:w-auto sm:grid-cols-3">
            <Field label="Search">
              <input
                className="field"
                value={text}
                onChange={(e) => setText(e.target.value)}
                placeholder="model, part, fix"
              />
            </Field>
            <Choice label="Pattern" value={pattern} options={patterns} onChange={setPattern} />
            <Choice label="Circuit" value={circuit} options={circuits} onChange={setCircuit} />
          </div>
        )}
      </div>
      {cases.length === 0 && (
        <Empty title="No closed cases yet">
          <p>
            When a job is closed with its outcome, its silhouette and its cause are kept here for the next unit like it.
          </p>
          <Link href="/" className="button">
            To the bench
          </Link>
        </Empty>
      )}
      {cases.length > 0 && shown.length === 0 && (
        <Empty title="Nothing like that">
          <p>No closed case fits all three. Clear one of them.</p>
        </Empty>
      )}
      <ul className="mt-4 grid gap-3 sm:grid-cols-2 xl:grid-cols-3">
        {shown.map((c) => (
          <li key={c.id}>
            <Link href={`/jobs/${c.id}`} className="card flex h-full flex-col hover:border-edge">
              {c.silhouette ? (
                <Silhouette path={c.silhouette} label={c.pattern ?? 'not recognised'} strong className="h-16 w-full" />
              ) : (
                <span className="flex h-16 items-center border-b-2 border-dotted border-line text-sm text-muted">
                  no run
                </span>
              )}
              <span className="mt-2 text-lg leading-tight font-bold">{c.circuitName ?? gradeWords[c.grade]}</span>
              {c.target && <span>{c.target}</span>}
              <span className="mt-1 text-sm text-muted">
                {c.pattern ?? 'no pattern'} · {c.model || classWords[c.deviceClass]}
              </span>
              {c.fix && <span className="mt-1 line-clamp-2 text-sm">{c.fix}</span>}
              <span className="mt-auto pt-2 text-sm text-muted">
                job {jobNumber(c.id)} · {gradeWords[c.grade]} · <LocalDate iso={c.closedAt} />
                {c.rank !== null && ` · ${c.rank === 1 ? 'called right' : `was ${ordinal(c.rank)} on the list`}`}
              </span>
            </Link>
          </li>
        ))}
      </ul>
    </main>
  );
}

function ordinal(n: number): string {
  return n === 2 ? 'second' : n === 3 ? 'third' : `number ${n}`;
}

function distinct(pairs: [string | null, string | null][]): [string, string][] {
  const known = new Map<string, string>();
  for (const [id, name] of pairs) if (id && name) known.set(id, name);
  return [...known].sort((a, b) => a[1].localeCompare(b[1]));
}

function Choice({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: string;
  options: [string, string][];
  onChange: (value: string) => void;
}) {
  return (
    <Field label={label}>
      <select className="field" value={value} onChange={(e) => onChange(e.target.value)}>
        <option value="">all</option>
        {options.map(([id, name]) => (
          <option key={id} value={id}>
            {name}
          </option>
        ))}
      </select>
    </Field>
  );
}
