import {
  circuitNames,
  formatStatedCurrent,
  levelsNear,
  meantBy,
  patternNames,
  closestLines,
  searchNotebook,
  notebookLines,
  countOf,
  deviceClasses,
  type DeviceClass,
  type Assessment,
  type CircuitId,
  type PatternId,
} from '@umbral/core';
import type { Knex } from 'knex';
import { searchQuery } from '@/features/notebook/ask';
import { lineView } from '@/features/notebook/view';
import { classWords, jobNumber } from '@/features/words';
import { loadParts } from '@/server/work/day/parts';
import { notebookEntries } from '@/server/work/library/notebook';
import { stoodNear, tellsWord } from '@/server/work/library/words';
import { db, type Queries } from '@/server/record/db';
import { listProfiles } from '@/server/work/shop/profiles';

/** One thing that was found. */
interface Hit {
  name: string;
  detail: string;
  href: string;
}

/** What was found of one kind, the first of it; `all` shows the rest. */
interface HitGroup {
  name: string;
  hits: Hit[];
  all: string | null;
}

export interface Found {
  groups: HitGroup[];
  /** What was looked for in place of a word that nothing is called. */
  spelt: { word: string; as: string }[];
}

/** Hits of a kind that are shown; rows that are looked at for them. */
const shown = 5;
/** From this similarity of trigrams a word is taken for a misspelt one. */
const alike = 0.35;

interface Asked {
  text: string;
  amps: number | null;
  volts: number | null;
  /** Every one of which a hit has, each as it may be spelt. */
  words: string[];
}

/**
 * Everything that is called so, or stood at that level: jobs, lines of the notebook, confirmed cases, models, parts, patterns,
 * circuits and people.
 *
 * @param text words and levels with their units, in any order
 */
export async function searchAll(text: string): Promise<Found> {
  const q = db();
  const query = searchQuery(text);
  if (query.words.length === 0 && query.amps === null && query.volts === null) return { groups: [], spelt: [] };
  const spelt = await respell(q, query.words);
  const words = query.words.map((word) => spelt.find((s) => s.word === word)?.as ?? word);
  const asked = { ...query, text, words };
  const groups = await Promise.all([
    jobsFound(q, asked),
    linesFound(q, asked),
    casesFound(q, asked),
    modelsFound(q, asked),
    partsFound(q, asked),
    namesFound(asked),
    peopleFound(q, asked),
  ]);
  return { groups: groups.filter((g) => g.hits.length > 0), spelt };
}

/** Words that nothing begins with, with the nearest that something is called. */
async function respell(q: Queries, words: readonly string[]): Promise<Found['spelt']> {
  const isPlain = (word: string): boolean =>
    !/\d/.test(word) && meantBy(word).patterns.length + meantBy(word).circuits.length === 0;
  const asked = words.filter(isPlain);
  if (asked.length === 0) return [];
  const { rows } = (await q.raw(
    `SELECT DISTINCT word FROM (
       SELECT key AS name FROM case_counts WHERE "by" IN ('model', 'technician') AND n > 0
       UNION SELECT label || ' ' || model || ' ' || serial || ' ' || complaint || ' ' || technician FROM jobs
         WHERE closed_at IS NULL AND deleted_at IS NULL
       UNION SELECT model || ' ' || element FROM notes WHERE deleted_at IS NULL
       UNION SELECT name || ' ' || number FROM parts WHERE deleted_at IS NULL
       UNION SELECT name FROM people) named, regexp_split_to_table(lower(name), '[^[:alnum:]]+') AS word
     WHERE length(word) > 2`,
  )) as { rows: { word: string }[] };
  const out: Found['spelt'] = [];
  for (const word of asked) {
    if (rows.some((r) => r.word.startsWith(word))) continue;
    const [nearest] = rows
      .map((r) => ({ as: r.word, p: trigramSimilarity(word, r.word) }))
      .filter(({ p }) => p >= alike)
      .sort((x, y) => y.p - x.p || x.as.localeCompare(y.as));
    if (!nearest) continue;
    // An element of a closed case, or its job, may still be called so.
    const isKnown = await q('library_cases as c')
      .where((w) => tellsWord(w, word))
      .first('c.id');
    if (!isKnown) out.push({ word, as: nearest.as });
  }
  return out;
}

/** Share of the trigrams of two words that both have, 0 to 1: a slip of a finger changes few of them. */
export function trigramSimilarity(a: string, b: string): number {
  const [of, and] = [a, b].map((word) => {
    const padded = `  ${word} `;
    return new Set(Array.from({ length: padded.length - 2 }, (_, k) => padded.slice(k, k + 3)));
  });
  const shared = [...of].filter((t) => and.has(t)).length;
  return shared / (of.size + and.size - shared);
}

interface JobHit {
  id: number;
  label: string;
  model: string;
  device_class: DeviceClass;
  closed_at: Date | null;
  outcome_circuit: CircuitId | null;
  result: Assessment | null;
}

const named = (
  name: string,
  hits: (Omit<Hit, 'detail'> & { detail: string[] })[],
  all: string | null = null,
): HitGroup => ({
  name,
  hits: hits.map((hit) => ({ ...hit, detail: hit.detail.filter((x) => x !== '').join(', ') })),
  all,
});

async function jobsFound(q: Queries, { words, amps, volts }: Asked): Promise<HitGroup> {
  const list = q('jobs as j')
    .where({ 'j.is_practice': false })
    .whereNull('j.deleted_at')
    .joinRaw(
      `LEFT JOIN LATERAL (SELECT result FROM assessments WHERE job_id = j.id AND j.closed_at IS NULL
         ORDER BY id DESC LIMIT 1) a ON true`,
    )
    .orderByRaw('j.closed_at IS NOT NULL, j.id DESC')
    .limit(shown)
    .select('j.id', 'j.label', 'j.model', 'j.device_class', 'j.closed_at', 'j.outcome_circuit', 'a.result');
  for (const word of words) void list.where((w) => jobSays(w, word));
  if (amps !== null || volts !== null) void list.where((w) => jobStood(q, w, amps, volts));
  const rows = (await list) as unknown as JobHit[];
  return named(
    'Jobs',
    rows.map((row) => {
      const circuit = row.outcome_circuit ?? row.result?.circuits[0]?.id ?? null;
      return {
        name: `${jobNumber(row.id)} ${row.label}`,
        detail: [
          row.model || classWords[row.device_class],
          row.closed_at === null ? 'open' : 'closed',
          circuit ? circuitNames[circuit] : '',
        ],
        href: `/jobs/${row.id}`,
      };
    }),
  );
}

/** That a job says a word: what stands on it, who works on it, what it is, or what it showed. */
function jobSays(where: Knex.QueryBuilder, word: string): void {
  const { patterns, circuits } = meantBy(word);
  void where
    .whereRaw(
      `to_tsvector('simple', j.label || ' ' || j.model || ' ' || j.serial || ' ' || j.complaint) @@ to_tsquery('simple', ?)`,
      [`${word}:*`],
    )
    .orWhere('j.technician', 'ilike', `%${word}%`);
  const kinds = classesSaid(word);
  if (kinds.length > 0) void where.orWhereIn('j.device_class', kinds);
  if (circuits.length > 0)
    void where
      .orWhereIn('j.outcome_circuit', circuits)
      .orWhereRaw(`a.result->'circuits'->0->>'id' = ANY(?)`, [circuits]);
  if (patterns.length > 0)
    void where
      .orWhereRaw(
        `EXISTS (SELECT FROM jsonb_array_elements(a.result->'runs') run WHERE run->'pattern'->0->>'id' = ANY(?))`,
        [patterns],
      )
      .orWhereRaw('EXISTS (SELECT FROM library_cases c WHERE c.job_id = j.id AND c.pattern = ANY(?))', [patterns]);
  if (/^\d{1,9}$/.test(word)) void where.orWhere('j.id', Number(word));
}

/** That a job's run stood at a level: of a closed one as it was learnt, of an open one as it was read. */
function jobStood(q: Queries, where: Knex.QueryBuilder, amps: number | null, volts: number | null): void {
  const learnt = q('library_cases as c').whereNotNull('c.job_id').select('c.job_id');
  stoodNear(learnt, amps, volts);
  const levels = [
    ...(amps === null ? [] : [{ sql: `(s->>'meanA')::float8 BETWEEN ? AND ?`, values: levelsNear(amps) }]),
    ...(volts === null ? [] : [{ sql: `abs((s->>'meanV')::float8 / ? - 1) < 0.1`, values: [volts] }]),
  ];
  void where.whereIn('j.id', learnt).orWhereRaw(
    `EXISTS (SELECT FROM jsonb_array_elements(a.result->'runs') run, jsonb_array_elements(run->'segments') s
       WHERE ${levels.map((l) => l.sql).join(' AND ')})`,
    levels.flatMap((l) => l.values),
  );
}

const classesSaid = (word: string): DeviceClass[] =>
  deviceClasses.filter((id) => id === word || classWords[id].toLowerCase().split(/\W+/).includes(word));

async function linesFound(q: Queries, { text, words, amps, volts }: Asked): Promise<HitGroup> {
  const { entries } = await notebookEntries(q, { amps, words: words.join(' ') });
  const query = { amps, volts, text: words.join(' ') };
  const nameOf = (c: CircuitId): string => circuitNames[c];
  const all = notebookLines(entries);
  const exact = searchNotebook(all, query, nameOf);
  const lines = exact.length > 0 ? exact : closestLines(all, query, nameOf);
  const view = lines.slice(0, shown).map(lineView);
  return named(
    exact.length > 0 ? 'Notebook' : 'Notebook, closest levels',
    view.map((line) => ({
      name: [line.model || line.deviceClass, line.level].filter((x) => x !== '').join(', '),
      detail: [line.causes[0]?.circuit ?? '', line.causes[0]?.says ?? '', line.setup],
      href: `/notebook?${new URLSearchParams({ q: text })}`,
    })),
    lines.length > shown ? `/notebook?${new URLSearchParams({ q: text })}` : null,
  );
}

async function casesFound(q: Queries, { words, amps, volts }: Asked): Promise<HitGroup> {
  const fitting = () => {
    const list = q('library_cases as c');
    for (const word of words) void list.where((w) => tellsWord(w, word));
    stoodNear(list, amps, volts);
    return list;
  };
  const rows = (await fitting()
    .orderBy([
      { column: 'c.closed_at', order: 'desc' },
      { column: 'c.id', order: 'desc' },
    ])
    .limit(shown + 1)
    .select('c.model', 'c.device_class', 'c.circuit', 'c.element', 'c.pattern', 'c.job_id', 'c.origin')) as unknown as {
    model: string;
    device_class: DeviceClass;
    circuit: CircuitId;
    element: string;
    pattern: PatternId | null;
    job_id: number | null;
    origin: string;
  }[];
  const level = [amps === null ? '' : formatStatedCurrent(amps), volts === null ? '' : `${volts} V`];
  const all = `/atlas?${new URLSearchParams({ text: [...words, ...level].filter((x) => x !== '').join(' ') })}`;
  return named(
    'Confirmed cases',
    rows.slice(0, shown).map((row) => ({
      name: [circuitNames[row.circuit], row.element].filter((x) => x !== '').join(': '),
      detail: [row.model || classWords[row.device_class], row.pattern ? patternNames[row.pattern] : '', row.origin],
      href: row.job_id === null ? all : `/jobs/${row.job_id}`,
    })),
    rows.length > shown ? all : null,
  );
}

const saysAll = (text: string, words: readonly string[]): boolean =>
  words.length > 0 && words.every((word) => text.toLowerCase().includes(word));

async function modelsFound(q: Queries, { words }: Asked): Promise<HitGroup> {
  const profiles = (await listProfiles(q)).map((p) => p.profile).filter((p) => !p.generic);
  const fitting = profiles.filter((p) => saysAll([p.name, classWords[p.class as DeviceClass]].join(' '), words));
  return named(
    'Models',
    fitting
      .slice(0, shown)
      .map((p) => ({ name: p.name, detail: [classWords[p.class as DeviceClass]], href: `/models/${p.id}` })),
    fitting.length > shown ? '/models' : null,
  );
}

async function partsFound(q: Queries, { words }: Asked): Promise<HitGroup> {
  const fitting = (await loadParts(q)).filter((part) => {
    const { circuits } = meantBy(words[0] ?? '');
    return (
      saysAll([part.name, part.number, part.suffix, part.model, part.shelf].join(' '), words) ||
      (words.length === 1 && circuits.includes(part.circuit))
    );
  });
  return named(
    'Parts',
    fitting.slice(0, shown).map((part) => ({
      name: `${part.name} ${part.number}`,
      detail: [countOf(part.onHand, 'piece'), part.shelf],
      href: '/parts',
    })),
    fitting.length > shown ? '/parts' : null,
  );
}

/** Patterns and circuits that are called so, with their confirmed cases. */
function namesFound({ words }: Asked): HitGroup {
  const meant = words.map(meantBy);
  const inAll = <T>(lists: T[][]): T[] =>
    lists.length === 0 ? [] : lists[0].filter((x) => lists.every((l) => l.includes(x)));
  const hits = [
    ...inAll(meant.map((m) => m.patterns)).map((id) => ({
      name: patternNames[id],
      detail: ['pattern'],
      href: `/atlas?${new URLSearchParams({ pattern: id })}`,
    })),
    ...inAll(meant.map((m) => m.circuits)).map((id) => ({
      name: circuitNames[id],
      detail: ['circuit'],
      href: `/atlas?${new URLSearchParams({ circuit: id })}`,
    })),
  ];
  return named('Patterns and circuits', hits.slice(0, shown));
}

async function peopleFound(q: Queries, { words }: Asked): Promise<HitGroup> {
  if (words.length === 0) return named('People', []);
  const rows = (await q('people').whereNull('disabled_at').orderBy('name').select('name', 'role')) as unknown as {
    name: string;
    role: string;
  }[];
  return named(
    'People',
    rows
      .filter((p) => saysAll(p.name, words))
      .slice(0, shown)
      .map((p) => ({ name: p.name, detail: [p.role], href: `/atlas?${new URLSearchParams({ technician: p.name })}` })),
  );
}
