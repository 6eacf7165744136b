import {
  notebookLines,
  patternTypes,
  type CircuitId,
  type DeviceClass,
  type Feed,
  type NotebookEntry,
  type NotebookLine,
} from '@umbral/core';
import * as yup from 'yup';
import { circuitIds, deviceClasses, feeds, parseQuantity } from '@umbral/core';
import { audit } from '../audit.ts';
import { transaction, type Queries } from '../db.ts';
import { ExpectedError, missing } from '../errors.ts';
import type { LibraryCaseRow, LibraryRunRow, NoteRow } from '../tables.ts';

type Met = Pick<
  LibraryCaseRow,
  'model' | 'device_class' | 'circuit' | 'element' | 'closed_at' | 'job_id' | 'library_id'
> &
  Pick<LibraryRunRow, 'feed' | 'pattern' | 'amps' | 'volts' | 'setup'> & {
    technician: string | null;
    shop: string | null;
  };

/** Everything that the notebook is made of: levels of confirmed cases, and lines that somebody typed. */
export async function notebookEntries(q: Queries): Promise<NotebookEntry[]> {
  const met = (await q('library_runs as r')
    .join('library_cases as c', 'c.id', 'r.case_id')
    .leftJoin('jobs as j', 'j.id', 'c.job_id')
    .leftJoin('libraries as l', 'l.id', 'c.library_id')
    .whereNull('j.deleted_at')
    .whereNotNull('r.amps')
    .orderBy('r.id')
    .select(
      'c.model',
      'c.device_class',
      'c.circuit',
      'c.element',
      'c.closed_at',
      'c.job_id',
      'c.library_id',
      'r.feed',
      'r.pattern',
      'r.amps',
      'r.volts',
      'r.setup',
      'j.technician',
      'l.shop',
    )) as Met[];
  const notes = (await q('notes as n')
    .leftJoin('people as p', 'p.id', 'n.person_id')
    .leftJoin('libraries as l', 'l.id', 'n.library_id')
    .whereNull('n.deleted_at')
    .orderBy('n.id')
    .select('n.*', 'p.name as who', 'l.shop')) as (NoteRow & { who: string | null; shop: string | null })[];
  return [...met.filter(isTelling).map(entryOfRun), ...notes.map(entryOfNote)];
}

/** A run that looks as it should tells nothing of the fault by its level. */
const isTelling = ({ pattern }: Met): boolean => pattern !== null && patternTypes[pattern].healthyWhen === undefined;

function entryOfRun(row: Met): NotebookEntry {
  return {
    model: row.model,
    deviceClass: row.device_class,
    feed: row.feed,
    volts: row.volts,
    amps: row.amps,
    setup: row.pattern && patternTypes[row.pattern].phase === 'before' ? 'before the press' : '',
    circuit: row.circuit,
    element: row.element,
    hits: 1,
    of: 1,
    at: row.closed_at,
    who: row.technician ?? '',
    source: row.job_id === null ? { kind: 'library', id: row.library_id ?? 0 } : { kind: 'job', id: row.job_id },
    origin: row.shop,
  };
}

function entryOfNote(row: NoteRow & { who: string | null; shop: string | null }): NotebookEntry {
  const { model, device_class: deviceClass, feed, volts, amps, setup, circuit, element, hits, of } = row;
  const source = { kind: 'note' as const, id: row.id };
  return {
    model,
    deviceClass,
    feed,
    volts,
    amps,
    setup,
    circuit,
    element,
    hits,
    of,
    at: row.created_at,
    who: row.who ?? '',
    source,
    origin: row.shop,
  };
}

/** The pages of the notebook. */
export async function loadNotebook(q: Queries): Promise<NotebookLine[]> {
  return notebookLines(await notebookEntries(q));
}

const quantity = (label: string, kind: 'A' | 'V') =>
  yup
    .string()
    .trim()
    .default('')
    .test(
      'quantity',
      ({ value }: { value: string }) =>
        `${label}: "${value}" is no ${kind === 'A' ? 'current; expected such as 0.18 A or 180 mA' : 'voltage; expected such as 18 V'}`,
      (text) => text === '' || quantityOf(text, kind) !== null,
    );

function quantityOf(text: string, kind: 'A' | 'V'): number | null {
  if (text === '') return null;
  const parsed = parseQuantity(text, kind === 'A' ? 'current' : 'voltage');
  return parsed.ok && parsed.value >= 0 && parsed.value <= 1000 ? parsed.value : null;
}

export const noteInput = yup.object({
  id: yup.number().integer().positive().nullable().default(null),
  model: yup
    .string()
    .trim()
    .max(120, 'Model: at most 120 characters')
    .required('Model: say which; a line without one helps nobody'),
  deviceClass: yup.string().oneOf(deviceClasses).required(),
  feed: yup.string().oneOf(feeds).nullable().default(null),
  amps: quantity('Level', 'A'),
  volts: quantity('Voltage', 'V'),
  setup: yup.string().trim().max(200, 'Setup: at most 200 characters').default(''),
  circuit: yup.string().oneOf(circuitIds, 'Circuit: choose what it was').required('Circuit: choose what it was'),
  element: yup.string().trim().max(120, 'Part: at most 120 characters').default(''),
  hits: yup
    .number()
    .typeError('Times: expected a number')
    .integer('Times: expected a whole number')
    .min(0, 'Times: not below zero')
    .max(100_000, 'Times: at most 100,000')
    .required(),
  of: yup
    .number()
    .typeError('Of: expected a number')
    .integer('Of: expected a whole number')
    .min(1, 'Of: at least one')
    .max(100_000, 'Of: at most 100,000')
    .required()
    .when('hits', ([hits], schema) => schema.min(hits as number, 'Of: cannot be fewer than it was that')),
});

export type NoteInput = yup.InferType<typeof noteInput>;

/** Keeps a line of the notebook, or corrects one. */
export async function keepNote(input: NoteInput): Promise<number> {
  if (input.amps === '' && input.setup === '')
    throw new ExpectedError('input', 'Level: type the current, or say in the setup what stood and what did not.');
  return transaction(async (q) => {
    const row = {
      model: input.model,
      device_class: input.deviceClass as DeviceClass,
      feed: input.feed as Feed | null,
      amps: quantityOf(input.amps, 'A'),
      volts: quantityOf(input.volts, 'V'),
      setup: input.setup,
      circuit: input.circuit as CircuitId,
      element: input.element,
      hits: input.hits,
      of: input.of,
    };
    if (input.id !== null) {
      const changed = await q('notes').where({ id: input.id, library_id: null }).whereNull('deleted_at').update(row);
      if (changed === 0) throw missing('This line');
      await audit(q, null, 'notebook: line changed', { id: input.id });
      return input.id;
    }
    const [{ id }] = await q('notes').insert(row).returning('id');
    await audit(q, null, 'notebook: line added', { id });
    return id;
  });
}

/** Takes a line out of the notebook, or puts it back. */
export async function setNoteTaken(id: number, isTaken: boolean): Promise<void> {
  await transaction(async (q) => {
    const changed = await q('notes')
      .where({ id })
      .update({ deleted_at: isTaken ? q.fn.now() : null });
    if (changed === 0) throw missing('This line');
    await audit(q, null, `notebook: line ${isTaken ? 'taken out' : 'put back'}`, { id });
  });
}

/**
 * Gives a model another name everywhere it stands: jobs, notebook, library, readings of good boards. Where the new name is
 * there already, both become one.
 *
 * @returns how many jobs carry the new name by it
 */
export async function renameModel(from: string, to: string): Promise<number> {
  const name = to.trim();
  if (name === '') throw new ExpectedError('input', 'Model: the new name is empty.');
  const same = (column: string) =>
    `lower(regexp_replace(btrim(${column}), '\\s+', ' ', 'g')) = lower(regexp_replace(btrim(?), '\\s+', ' ', 'g'))`;
  return transaction(async (q) => {
    const jobs = await q('jobs')
      .where({ is_practice: false })
      .whereRaw(same('model'), [from])
      .update({ model: name, version: q.raw('version + 1') });
    const notes = await q('notes').whereRaw(same('model'), [from]).update({ model: name });
    const cases = await q('library_cases').whereRaw(same('model'), [from]).update({ model: name });
    await q('calls').whereRaw(same('model'), [from]).update({ model: name });
    await q('reference_readings')
      .where({ model_key: from.trim().toLowerCase() })
      .update({ model_key: name.toLowerCase() });
    if (jobs + notes + cases === 0) throw missing(`The model "${from}"`);
    await audit(q, null, `model renamed: ${from} is ${name}`, { from, to: name, jobs, notes, cases });
    return jobs;
  });
}
