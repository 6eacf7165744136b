import {
  circuitNames,
  deviceClasses,
  formatResistance,
  formatStatedCurrent,
  formatVoltage,
  modelKey,
  notebookLines,
  readTypedRun,
  searchNotebook,
  closestLines,
  type CircuitId,
  type DeviceClass,
  type NotebookQuery,
} from '@umbral/core';
import { db } from '@/server/record/db';
import { notebookEntries } from '@/server/work/library/notebook';
import { modelKeyOf } from '@/server/work/library/words';
import type { CaseCountRow, NoteRow } from '@/server/record/rows';
import { classWords } from '@/features/words';
import { notALevel, notebookQuery } from './ask';
import { lineView, type LineView } from './view';

/** A value of a good board, by point. */
interface GoodValue {
  where: string;
  says: string;
}

export interface NoteForm {
  id: number | null;
  model: string;
  deviceClass: string;
  feed: string;
  amps: string;
  volts: string;
  setup: string;
  circuit: string;
  element: string;
  /** As they are typed. */
  hits: string;
  of: string;
}

export interface NotebookPageView {
  asked: string;
  model: string | null;
  /** Kind of device that the lines are of; null for any. */
  kind: DeviceClass | null;
  kinds: { id: DeviceClass; name: string; cases: number }[];
  models: { name: string; deviceClass: string; cases: number }[];
  lines: LineView[];
  /** None of them is at the level that was asked for. */
  isClosest: boolean;
  /** Why what was typed is no level; empty where it is one. */
  problem: string;
  /** Lines that are there beyond those that are shown. */
  more: number;
  /** Only the newest, or the nearest to what was asked, were looked at. */
  isCut: boolean;
  good: GoodValue[];
  notes: NoteForm[];
}

/** Lines on one page: nobody reads more, and a number finds the others. */
const shownLines = 150;
const shownModels = 80;
/** Up to so many cases words are looked for in every line. */
const lookedThrough = 1000;

export async function loadNotebookPage(
  asked: string,
  model: string | null,
  kind: DeviceClass | null,
): Promise<NotebookPageView> {
  const q = db();
  const query = asked.trim() === '' ? { amps: null, volts: null, text: '' } : notebookQuery(asked);
  const counts = (await q('case_counts').where('n', '>', 0).orderBy('n', 'desc').select()) as CaseCountRow[];
  const { entries, isCut } = await notebookEntries(q, {
    amps: query.amps,
    model,
    deviceClass: kind,
    // Words are looked for in whole lines; before that only where there are more than can be looked at.
    words: counts.reduce((sum, c) => sum + (c.by === 'circuit' ? Number(c.n) : 0), 0) > lookedThrough ? query.text : '',
  });
  const lines = notebookLines(entries);
  const nameOf = (c: CircuitId): string => circuitNames[c];
  const exact = asked.trim() === '' ? lines : searchNotebook(lines, query, nameOf);
  const found = exact.length > 0 ? exact : closestLines(lines, query, nameOf);
  const notes = (await q('notes')
    .whereNull('deleted_at')
    .whereNull('library_id')
    .orderBy('id', 'desc')
    .limit(shownLines)) as NoteRow[];
  return {
    asked,
    model,
    kind,
    kinds: kindsOf(counts, notes),
    models: modelsOf(counts, notes, kind),
    lines: found.slice(0, shownLines).map(lineView),
    isClosest: exact.length === 0 && found.length > 0,
    problem: notALevel(asked),
    more: Math.max(0, found.length - shownLines),
    isCut,
    good: model === null ? [] : await goodValues(model),
    notes: notes.map(noteForm),
  };
}

function kindsOf(counts: readonly CaseCountRow[], notes: readonly NoteRow[]): NotebookPageView['kinds'] {
  return deviceClasses.flatMap((id) => {
    const typed = notes.reduce((sum, n) => sum + (n.device_class === id ? n.of : 0), 0);
    const cases = typed + Number(counts.find((c) => c.by === 'deviceClass' && c.key === id)?.n ?? 0);
    return cases > 0 ? [{ id, name: classWords[id], cases }] : [];
  });
}

/** Models with most cases, by name. */
function modelsOf(
  counts: readonly CaseCountRow[],
  notes: readonly NoteRow[],
  kind: DeviceClass | null,
): NotebookPageView['models'] {
  const by = new Map<string, NotebookPageView['models'][number]>();
  const add = (deviceClass: DeviceClass, name: string, cases: number): void => {
    if (kind !== null && deviceClass !== kind) return;
    const known = by.get(modelKey(name)) ?? { name, deviceClass: classWords[deviceClass], cases: 0 };
    by.set(modelKey(name), { ...known, cases: known.cases + cases });
  };
  for (const { by: what, key, n } of counts) {
    const at = key.indexOf(' ');
    if (what === 'kindModel') add(key.slice(0, at) as DeviceClass, key.slice(at + 1), Number(n));
  }
  for (const note of notes) add(note.device_class, note.model, note.of);
  return [...by.values()]
    .filter((m) => m.name.trim() !== '')
    .sort((a, b) => b.cases - a.cases)
    .slice(0, shownModels)
    .sort((a, b) => a.name.localeCompare(b.name));
}

/** Diode and resistance values, and voltages, of good boards of this model. */
async function goodValues(model: string): Promise<GoodValue[]> {
  const rows = await db()('reference_readings')
    .whereIn('model_key', [modelKey(model), ...(await profilesOf(model))])
    .orderBy('where');
  return rows.map((r) => ({
    where: r.where,
    says: r.ol
      ? 'open line'
      : r.mode === 'resistance'
        ? `${formatResistance(r.value)} to ground`
        : r.mode === 'diode'
          ? `${formatVoltage(r.value)} in diode mode`
          : formatVoltage(r.value),
  }));
}

async function profilesOf(model: string): Promise<string[]> {
  const rows = await db()('jobs')
    .where({ is_practice: false })
    .whereRaw(`${modelKeyOf('model')} = ?`, [modelKey(model)])
    .distinct('profile');
  return rows.flatMap((r) => (r.profile === null ? [] : [r.profile]));
}

function noteForm(row: NoteRow): NoteForm {
  return {
    id: row.id,
    model: row.model,
    deviceClass: row.device_class,
    feed: row.feed ?? '',
    amps: row.amps === null ? '' : formatStatedCurrent(row.amps),
    volts: row.volts === null ? '' : formatVoltage(row.volts),
    setup: row.setup,
    circuit: row.circuit,
    element: row.element,
    hits: String(row.hits),
    of: String(row.of),
  };
}

/** The feed of a typed reading, and whether its last level followed the press; nothing where it is no whole reading. */
function setupOf(asked: string): Pick<NotebookQuery, 'feed' | 'phase'> {
  try {
    const { run } = readTypedRun(asked, 'r1');
    const isAsked = run.markers.some((m) => m.event === 'prompt');
    // A port powers up by itself: without a press nobody knows what its level followed.
    return { feed: run.feed, phase: isAsked ? 'after' : run.feed === 'battery' ? 'before' : null };
  } catch {
    return {};
  }
}

/** The first lines that the notebook has on something that was typed: asked before the engine. */
export async function lookUpNotebook(asked: string, deviceClass: DeviceClass | null): Promise<LineView[]> {
  const query = { ...notebookQuery(asked), ...setupOf(asked) };
  if (query.amps === null) return [];
  const { entries } = await notebookEntries(db(), { amps: query.amps, deviceClass });
  return searchNotebook(notebookLines(entries), query, (c: CircuitId) => circuitNames[c])
    .slice(0, 4)
    .map(lineView);
}
