import {
  circuitNames,
  deviceClasses,
  formatResistance,
  formatStatedCurrent,
  formatVoltage,
  modelKey,
  notebookLines,
  searchNotebook,
  type CircuitId,
  type DeviceClass,
  type NotebookLine,
} from '@umbral/core';
import { db } from '@/server/db';
import { notebookEntries } from '@/server/library/notebook';
import type { NoteRow } from '@/server/rows';
import { classWords } from '@/features/words';
import { notebookQuery } from './ask';
import { lineView, type LineView } from './view';

/** A value of a good board, by point. */
export interface GoodValue {
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
  /** Lines that are there beyond those that are shown. */
  more: number;
  good: GoodValue[];
  notes: NoteForm[];
}

/** Lines on one page: nobody reads more, and a number finds the others. */
const shownLines = 300;

export async function loadNotebookPage(
  asked: string,
  model: string | null,
  kind: DeviceClass | null,
): Promise<NotebookPageView> {
  const q = db();
  const entries = await notebookEntries(q);
  const lines = notebookLines(entries);
  const ofKind = kind === null ? lines : lines.filter((l) => l.deviceClass === kind);
  const ofModel = model === null ? ofKind : ofKind.filter((l) => modelKey(l.model) === modelKey(model));
  const found = asked.trim() === '' ? ofModel : search(ofModel, asked);
  return {
    asked,
    model,
    kind,
    kinds: deviceClasses.flatMap((id) => {
      const cases = lines.filter((l) => l.deviceClass === id).reduce((sum, l) => sum + l.of, 0);
      return cases > 0 ? [{ id, name: classWords[id], cases }] : [];
    }),
    models: modelsOf(ofKind),
    lines: found.slice(0, shownLines).map(lineView),
    more: Math.max(0, found.length - shownLines),
    good: model === null ? [] : await goodValues(model),
    notes: ((await q('notes').whereNull('deleted_at').whereNull('library_id')) as NoteRow[]).map(noteForm),
  };
}

function search(lines: readonly NotebookLine[], asked: string): NotebookLine[] {
  return searchNotebook(lines, notebookQuery(asked), (c: CircuitId) => circuitNames[c]);
}

function modelsOf(lines: readonly NotebookLine[]): NotebookPageView['models'] {
  const by = new Map<string, NotebookPageView['models'][number]>();
  for (const line of lines) {
    const key = modelKey(line.model);
    const known = by.get(key) ?? { name: line.model, deviceClass: classWords[line.deviceClass], cases: 0 };
    by.set(key, { ...known, cases: known.cases + line.of });
  }
  return [...by.values()].sort((a, b) => a.name.localeCompare(b.name));
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
    .whereRaw('lower(btrim(model)) = ?', [modelKey(model)])
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

/** The first lines that the notebook has on something that was typed: asked before the engine. */
export async function lookUpNotebook(asked: string): Promise<LineView[]> {
  const query = notebookQuery(asked);
  if (query.amps === null) return [];
  const lines = notebookLines(await notebookEntries(db()));
  return searchNotebook(lines, query, (c: CircuitId) => circuitNames[c])
    .slice(0, 4)
    .map(lineView);
}
