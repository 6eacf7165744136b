'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { circuitNames, formatPercent, patternNames } from '@umbral/core/words';
import Link from '@/ui/link';
import { useCallback, useEffect, useRef, useState } from 'react';
import { classWords, gradeWords, jobNumber } from '@/features/words';
import { Empty } from '@/ui/parts';
import { Silhouette } from '@/ui/silhouette';
import { outlinePath } from './outline';
import type { AtlasCase, AtlasFilter, AtlasOverview, AtlasPage } from './queries';
import { SelectField, TextField } from '@/ui/kit/fields';

const filterWords: Record<AtlasFilter, string> = {
  pattern: 'Pattern',
  circuit: 'Circuit',
  deviceClass: 'Kind of device',
  model: 'Model',
  grade: 'Outcome',
  technician: 'Technician',
  origin: 'Shop',
};

/** What a value of a filter is called. */
function nameOf(filter: AtlasFilter, value: string): string {
  if (filter === 'pattern') return patternNames[value as keyof typeof patternNames] ?? value;
  if (filter === 'circuit') return circuitNames[value as keyof typeof circuitNames] ?? value;
  if (filter === 'deviceClass') return classWords[value as keyof typeof classWords] ?? value;
  if (filter === 'grade') return gradeWords[value as keyof typeof gradeWords] ?? value;
  return value;
}

const filters = Object.keys(filterWords) as AtlasFilter[];
type Chosen = Partial<Record<AtlasFilter, string>>;

/** What of an address is a filter; anything may stand in one. */
const pickFilters = (given: Readonly<Record<string, unknown>>): Chosen =>
  Object.fromEntries(filters.flatMap((f) => (typeof given[f] === 'string' ? [[f, given[f]]] : [])));

/** Whoever types waits no longer than this for the list to follow, ms. */
const pauseMs = 200;

/** Confirmed cases as silhouettes: what it looked like, and what it was. */
export function AtlasView({
  job,
  asked = { text: '', chosen: {} },
  overview,
  isLead,
}: {
  job: number | null;
  /** What the address asks for. */
  asked?: { text: string; chosen: Chosen };
  overview: AtlasOverview;
  isLead: boolean;
}) {
  const [text, setText] = useState(asked.text);
  const [chosen, setChosen] = useState<Chosen>(() => pickFilters(asked.chosen));
  const { cases, found, problem, more } = useCases(job, text, chosen);
  const { total } = overview;
  const all = total.toLocaleString('en');
  const isAll = job === null && text === '' && Object.values(chosen).every((v) => v === '');
  const saidFound = isAll ? all : `${found === null ? 'More than 1,000' : found.toLocaleString('en')} of ${all}`;
  return (
    <main className="mx-auto max-w-[1280px] px-4 py-4">
      <div className="flex flex-wrap items-end gap-x-4 gap-y-2">
        <div className="mr-auto">
          <h1 className="text-2xl">Atlas</h1>
          <p className="text-muted">
            {cases === null
              ? 'Searching …'
              : `${saidFound} confirmed cases: what was recorded, and what the cause was.`}
            {job !== null && (
              <>
                {' '}
                Closest to{' '}
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
      {total === 0 && (
        <Empty title="No confirmed cases yet">
          <p>Jobs closed with their cause appear here. Their runs help with the next similar device.</p>
          <Link href="/" className="button">
            Go to the bench
          </Link>
        </Empty>
      )}
      {total > 0 && (
        <>
          <Patterns
            patterns={overview.patterns}
            chosen={chosen.pattern ?? ''}
            onChoose={(pattern) => setChosen({ ...chosen, pattern })}
          />
          <Filters values={overview.values} chosen={chosen} text={text} onChoose={setChosen} onText={setText} />
          {cases?.length === 0 && (
            <Empty title="No match">
              <p>
                {job === null
                  ? 'No confirmed case matches all filters. Clear one of them.'
                  : 'No comparable case matches all filters.'}
              </p>
            </Empty>
          )}
          <Cases cases={cases ?? []} onEnd={more} />
        </>
      )}
    </main>
  );
}

/** The cases that fit, as far as somebody looked: more come when the end is in sight. */
function useCases(job: number | null, text: string, chosen: Chosen) {
  const [page, setPage] = useState<AtlasPage | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const asked = useRef<AbortController | null>(null);
  const isFirst = useRef(true);
  const ask = useCallback(
    async (known: AtlasPage | null) => {
      asked.current?.abort();
      const { signal } = (asked.current = new AbortController());
      const after = known?.cases.at(-1)?.id;
      const query = new URLSearchParams({
        ...Object.fromEntries(Object.entries(chosen).filter(([, v]) => v !== '')),
        ...(job === null ? {} : { job: String(job) }),
        ...(text === '' ? {} : { text }),
        ...(after === undefined ? {} : { after: String(after) }),
      });
      try {
        const answer = await fetch(`/api/atlas?${query}`, { signal });
        const result = (await answer.json()) as { ok: true; value: AtlasPage } | { ok: false; message: string };
        if (signal.aborted) return;
        asked.current = null;
        setProblem(result.ok ? null : result.message);
        if (result.ok) setPage({ ...result.value, cases: [...(known?.cases ?? []), ...result.value.cases] });
      } catch {
        if (!signal.aborted) setProblem('The server could not be reached.');
      }
    },
    [job, text, chosen],
  );
  useEffect(() => {
    const timer = setTimeout(() => void ask(null), isFirst.current ? 0 : pauseMs);
    isFirst.current = false;
    return () => clearTimeout(timer);
  }, [ask]);
  const more = (): void => {
    if (page?.hasMore && asked.current === null) void ask(page);
  };
  return { cases: page?.cases ?? null, found: page?.found ?? null, problem, more };
}

/** Every pattern that was met, by its typical silhouette in this shop. */
function Patterns({
  patterns,
  chosen,
  onChoose,
}: {
  patterns: AtlasOverview['patterns'];
  chosen: string;
  onChoose: (pattern: string) => void;
}) {
  return (
    <ul aria-label="Patterns" className="mt-3 flex gap-2 overflow-x-auto pb-1">
      {patterns.map(({ pattern, count, path }) => (
        <li key={pattern} className="shrink-0">
          <button
            type="button"
            aria-pressed={chosen === pattern}
            onClick={() => onChoose(chosen === pattern ? '' : pattern)}
            className={`card w-40 py-1.5 text-left text-sm hover:border-edge ${chosen === pattern ? 'border-umbra' : ''}`}
          >
            <Silhouette path={path} label={`Typical: ${nameOf('pattern', pattern)}`} className="h-7 w-full" />
            <span className="mt-0.5 block h-10 leading-5">{nameOf('pattern', pattern)}</span>
            <span className="text-muted">{count.toLocaleString('en')}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Filters({
  values,
  chosen,
  text,
  onChoose,
  onText,
}: {
  values: AtlasOverview['values'];
  chosen: Chosen;
  text: string;
  onChoose: (chosen: Chosen) => void;
  onText: (text: string) => void;
}) {
  const byName = (f: AtlasFilter): string[] => [...values[f]].sort((a, b) => nameOf(f, a).localeCompare(nameOf(f, b)));
  return (
    <div className="mt-2 grid grid-cols-2 gap-2 sm:grid-cols-3 lg:grid-cols-4 xl:grid-cols-7">
      <TextField label="Search" value={text} placeholder="model, part, short, 0.19 A" onValue={onText} />
      {filters
        .filter((f) => f !== 'pattern' && values[f].length > 1)
        .map((f) => (
          <SelectField
            key={f}
            label={filterWords[f]}
            value={chosen[f] ?? ''}
            onValue={(value) => onChoose({ ...chosen, [f]: value })}
          >
            <option value="">all</option>
            {byName(f).map((v) => (
              <option key={v} value={v}>
                {nameOf(f, v)}
              </option>
            ))}
          </SelectField>
        ))}
    </div>
  );
}

const rowHeight = 92;
/** So many before the last one more are asked for. */
const endsAt = 20;

/** As many as there are; only those in sight are drawn, and more are asked for when the end comes near. */
function Cases({ cases, onEnd }: { cases: readonly AtlasCase[]; onEnd: () => void }) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library -- its functions are called on every scroll, and remembered nowhere
  const rows = useVirtualizer({
    count: cases.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => rowHeight,
    overscan: 8,
    initialRect: { width: 1200, height: 560 },
  });
  const shown = rows.getVirtualItems();
  const isAtEnd = cases.length > 0 && (shown.at(-1)?.index ?? 0) >= cases.length - endsAt;
  useEffect(() => {
    if (isAtEnd) onEnd();
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
        {shown.map((item) => (
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
          {one.rank !== null && ` · ${one.rank === 1 ? 'first suspect' : `suspect ${one.rank}`}`}
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
