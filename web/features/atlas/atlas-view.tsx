'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { circuitNames, formatPercent, patternNames } from '@umbral/core/words';
import Link from '@/ui/link';
import { useEffect, useMemo, useRef, useState } from 'react';
import { classWords, gradeWords, jobNumber } from '@/features/words';
import { Empty, Field } from '@/ui/parts';
import { Silhouette } from '@/ui/silhouette';
import { outlinePath, typicalOutline } from './outline';
import type { AtlasCase } from './queries';

const filters = ['pattern', 'circuit', 'deviceClass', 'model', 'grade', 'technician', 'origin'] as const;
type Filter = (typeof filters)[number];
const filterWords: Record<Filter, string> = {
  pattern: 'Pattern',
  circuit: 'Circuit',
  deviceClass: 'Kind of device',
  model: 'Model',
  grade: 'How sure',
  technician: 'Technician',
  origin: 'Shop',
};

/** What a value of a filter is called. */
function nameOf(filter: Filter, value: string): string {
  if (filter === 'pattern') return patternNames[value as keyof typeof patternNames] ?? value;
  if (filter === 'circuit') return circuitNames[value as keyof typeof circuitNames] ?? value;
  if (filter === 'deviceClass') return classWords[value as keyof typeof classWords] ?? value;
  if (filter === 'grade') return gradeWords[value as keyof typeof gradeWords] ?? value;
  return value;
}

type Chosen = Partial<Record<Filter, string>>;

/** Confirmed cases as silhouettes: what it looked like, and what it was. */
export function AtlasView({ job, isLead }: { job: number | null; isLead: boolean }) {
  const [cases, setCases] = useState<AtlasCase[] | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [text, setText] = useState('');
  const [chosen, setChosen] = useState<Chosen>({});
  useEffect(() => {
    const asked = new AbortController();
    void fetch(`/api/atlas${job === null ? '' : `?job=${job}`}`, { signal: asked.signal })
      .then((answer) => answer.json() as Promise<{ ok: true; value: AtlasCase[] } | { ok: false; message: string }>)
      .then((result) => (result.ok ? setCases(result.value) : setProblem(result.message)))
      .catch(() => asked.signal.aborted || setProblem('The server could not be reached.'));
    return () => asked.abort();
  }, [job]);
  const shown = useMemo(() => (cases ?? []).filter((c) => fits(c, chosen, text)), [cases, chosen, text]);
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="mr-auto">
          <h1 className="text-2xl">Atlas</h1>
          <p className="text-muted">
            {cases === null
              ? 'Looking it up …'
              : `${shown.length} of ${cases.length} confirmed cases: what it looked like, and what it was.`}
            {job !== null && (
              <>
                {' '}
                Nearest to{' '}
                <Link href={`/jobs/${job}`} className="underline">
                  job {jobNumber(job)}
                </Link>{' '}
                first.
              </>
            )}
          </p>
        </div>
        {isLead && (
          <Link href="/atlas/libraries" className="button">
            Libraries of other shops
          </Link>
        )}
      </div>
      {problem && <p role="alert">{problem}</p>}
      {cases?.length === 0 && (
        <Empty title="No confirmed cases yet">
          <p>
            When a job is closed with its cause, its silhouettes and its cause are kept here for the next unit like it.
          </p>
          <Link href="/" className="button">
            To the bench
          </Link>
        </Empty>
      )}
      {cases !== null && cases.length > 0 && (
        <>
          <Patterns
            cases={cases}
            chosen={chosen.pattern ?? ''}
            onChoose={(pattern) => setChosen({ ...chosen, pattern })}
          />
          <Filters cases={cases} chosen={chosen} text={text} onChoose={setChosen} onText={setText} />
          {shown.length === 0 && (
            <Empty title="Nothing like that">
              <p>No confirmed case fits all of it. Clear one of them.</p>
            </Empty>
          )}
          <Cases cases={shown} />
        </>
      )}
    </main>
  );
}

function fits(c: AtlasCase, chosen: Chosen, text: string): boolean {
  if (filters.some((f) => chosen[f] && (c[f] ?? '') !== chosen[f])) return false;
  if (text === '') return true;
  const told = `${c.model} ${c.element} ${circuitNames[c.circuit]} ${c.job ?? ''}`.toLowerCase();
  return text
    .toLowerCase()
    .split(/\s+/)
    .every((word) => told.includes(word));
}

/** Every pattern that was met, by its typical silhouette in this shop. */
function Patterns({
  cases,
  chosen,
  onChoose,
}: {
  cases: readonly AtlasCase[];
  chosen: string;
  onChoose: (pattern: string) => void;
}) {
  const met = useMemo(() => {
    const by = new Map<string, string[]>();
    for (const c of cases) if (c.pattern) by.set(c.pattern, [...(by.get(c.pattern) ?? []), c.outline]);
    return [...by]
      .map(([pattern, outlines]) => ({ pattern, count: outlines.length, path: outlinePath(typicalOutline(outlines)) }))
      .sort((a, b) => b.count - a.count);
  }, [cases]);
  return (
    <ul aria-label="Patterns" className="mt-3 flex gap-2 overflow-x-auto pb-1">
      {met.map(({ pattern, count, path }) => (
        <li key={pattern} className="shrink-0">
          <button
            type="button"
            aria-pressed={chosen === pattern}
            onClick={() => onChoose(chosen === pattern ? '' : pattern)}
            className={`card w-40 py-1.5 text-left text-sm hover:border-edge ${chosen === pattern ? 'border-umbra' : ''}`}
          >
            <Silhouette path={path} label={`Typical: ${nameOf('pattern', pattern)}`} className="h-7 w-full" />
            <span className="mt-0.5 block h-10 leading-5">{nameOf('pattern', pattern)}</span>
            <span className="text-muted">{count}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Filters({
  cases,
  chosen,
  text,
  onChoose,
  onText,
}: {
  cases: readonly AtlasCase[];
  chosen: Chosen;
  text: string;
  onChoose: (chosen: Chosen) => void;
  onText: (text: string) => void;
}) {
  const values = useMemo(
    () =>
      Object.fromEntries(
        filters.map((f) => [
          f,
          [...new Set(cases.map((c) => c[f] ?? ''))]
            .filter((v) => v !== '')
            .sort((a, b) => nameOf(f, a).localeCompare(nameOf(f, b))),
        ]),
      ) as Record<Filter, string[]>,
    [cases],
  );
  return (
    <div className="mt-2 grid grid-cols-2 gap-2 sm:grid-cols-3 lg:grid-cols-4 xl:grid-cols-7">
      <Field label="Search">
        <input className="field" value={text} onChange={(e) => onText(e.target.value)} placeholder="model, part" />
      </Field>
      {filters
        .filter((f) => f !== 'pattern' && values[f].length > 1)
        .map((f) => (
          <Field key={f} label={filterWords[f]}>
            <select
              className="field"
              value={chosen[f] ?? ''}
              onChange={(e) => onChoose({ ...chosen, [f]: e.target.value })}
            >
              <option value="">all</option>
              {values[f].map((v) => (
                <option key={v} value={v}>
                  {nameOf(f, v)}
                </option>
              ))}
            </select>
          </Field>
        ))}
    </div>
  );
}

const rowHeight = 92;

/** As many as there are; only those in sight are drawn. */
function Cases({ cases }: { cases: readonly AtlasCase[] }) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called on every scroll, and remembered nowhere
  const rows = useVirtualizer({
    count: cases.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    initialRect: { width: 1200, height: 560 },
  });
  return (
    <div
      ref={scroller}
      className="mt-3 h-[62vh] min-h-80 overflow-y-auto rounded-xl border border-line"
      tabIndex={0}
      role="region"
      aria-label="Confirmed cases"
    >
      <ul className="relative" style={{ height: rows.getTotalSize() }}>
        {rows.getVirtualItems().map((item) => (
          <li
            key={item.index}
            className="absolute inset-x-0 px-1.5 pt-1.5"
            style={{ top: item.start, height: rowHeight }}
          >
            <CaseRow one={cases[item.index]} />
          </li>
        ))}
      </ul>
    </div>
  );
}

function CaseRow({ one }: { one: AtlasCase }) {
  const content = (
    <>
      <Silhouette
        path={outlinePath(one.outline)}
        label={one.pattern ? patternNames[one.pattern] : 'not recognised'}
        strong
        className="h-12 w-full"
      />
      <span className="min-w-0">
        <span className="block truncate font-bold">
          {circuitNames[one.circuit]}
          {one.element && <span className="font-normal text-muted"> · {one.element}</span>}
        </span>
        <span className="block truncate text-sm text-muted">
          {one.pattern ? patternNames[one.pattern] : 'no pattern'} · {one.model || classWords[one.deviceClass]}
        </span>
        <span className="block truncate text-sm text-muted">
          {one.job === null ? `from ${one.origin}` : `job ${jobNumber(one.job)}`} · {gradeWords[one.grade]} · {one.on}
          {one.rank !== null && ` · ${one.rank === 1 ? 'called right' : `was number ${one.rank}`}`}
        </span>
      </span>
      {one.likeness !== null && <span className="text-sm">{formatPercent(one.likeness)} alike</span>}
    </>
  );
  const look =
    'grid h-full grid-cols-[110px_minmax(0,1fr)_auto] items-center gap-3 rounded-xl border border-line bg-surface px-3 sm:grid-cols-[220px_minmax(0,1fr)_auto]';
  return one.job === null ? (
    <div className={look}>{content}</div>
  ) : (
    <Link href={`/jobs/${one.job}`} className={`${look} hover:border-edge`} prefetch={false}>
      {content}
    </Link>
  );
}
