import {
  modelKey,
  patternIds,
  patternTypes,
  phaseSaid,
  type CircuitId,
  type DeviceClass,
  type Feed,
  type NotebookEntry,
} from '@umbral/core';
import * as yup from 'yup';
import { circuitIds, deviceClasses, feeds, parseQuantity } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { modelKeyOf, tellsWord, wordsOf } from './words.ts';
import type { LibraryCaseRow, LibraryRunRow, NoteRow } from '../../record/tables.ts';

type Met = Pick<
  LibraryCaseRow,
  'model' | 'device_class' | 'circuit' | 'element' | 'closed_at' | 'job_id' | 'library_id' | 'technician' | 'origin'
> &
  Pick<LibraryRunRow, 'id' | 'feed' | 'pattern' | 'amps' | 'volts' | 'setup'>;

/** Which part of the notebook is meant: everything where nothing is said. */
interface NotebookPart {
  /** Amperes: what is nearest to it. */
  amps?: number | null;
  model?: string | null;
  deviceClass?: DeviceClass | null;
  /** Words of the model, the part or the circuit. */
  words?: string;
}

/** Readings and typed lines that are looked at, each: of more the nearest to a level, or the newest. */
const atMost = 1500;
/** Readings that are looked at on each side of a level: the nearest. */
const besideLevel = 400;
/** Runs that look as they should tell nothing of the fault by their level. */
const telling = patternIds.filter((p) => patternTypes[p].healthyWhen === undefined);

/**
 * What the notebook is made of: levels of confirmed cases, and lines that somebody typed.
 *
 * @returns at most {@link atMost} of each, with whether there are more
 */
export async function notebookEntries(
  q: Queries,
  part: NotebookPart = {},
): Promise<{ entries: NotebookEntry[]; isCut: boolean }> {
  const met = await metIn(q, part);
  const notes = await notesIn(q, part);
  return {
    entries: [...met.map(entryOfRun), ...notes.map(entryOfNote)],
    isCut: met.length >= (part.amps == null ? atMost : besideLevel) || notes.length >= atMost,
  };
}

async function metIn(q: Queries, { amps = null, model, deviceClass, words = '' }: NotebookPart): Promise<Met[]> {
  const list = () => {
    const runs = q('library_runs as r')
      .join('library_cases as c', 'c.id', 'r.case_id')
      .whereNotNull('r.amps')
      .whereIn('r.pattern', telling)
      .select('r.id', 'r.feed', 'r.pattern', 'r.amps', 'r.volts', 'r.setup')
      .select('c.model', 'c.device_class', 'c.circuit', 'c.element', 'c.closed_at', 'c.job_id', 'c.library_id')
      .select('c.technician', 'c.origin');
    if (model) void runs.whereRaw(`${modelKeyOf('c.model')} = ?`, [modelKey(model)]);
    if (deviceClass) void runs.where('c.device_class', deviceClass);
    for (const word of wordsOf(words)) void runs.where((w) => tellsWord(w, word));
    return runs;
  };
  const rows =
    amps === null
      ? await list()
          .orderBy([
            { column: 'c.closed_at', order: 'desc' },
            { column: 'c.id', order: 'desc' },
          ])
          .limit(atMost)
      : // From the level outwards, in both directions.
        [
          ...(await list().where('r.amps', '>=', amps).orderBy('r.amps').limit(besideLevel)),
          ...(await list().where('r.amps', '<', amps).orderBy('r.amps', 'desc').limit(besideLevel)),
        ];
  return (rows as unknown as Met[]).sort((a, b) => a.id - b.id);
}

type Note = NoteRow & { who: string | null; shop: string | null };

async function notesIn(q: Queries, { amps = null, model, deviceClass }: NotebookPart): Promise<Note[]> {
  const list = q('notes as n')
    .leftJoin('people as p', 'p.id', 'n.person_id')
    .leftJoin('libraries as l', 'l.id', 'n.library_id')
    .whereNull('n.deleted_at')
    .limit(atMost)
    .select('n.*', 'p.name as who', 'l.shop');
  if (amps === null) void list.orderBy('n.id', 'desc');
  else void list.orderByRaw('abs(n.amps - ?), n.id', [amps]);
  if (model) void list.whereRaw(`${modelKeyOf('n.model')} = ?`, [modelKey(model)]);
  if (deviceClass) void list.where('n.device_class', deviceClass);
  return ((await list) as Note[]).sort((a, b) => a.id - b.id);
}

function entryOfRun(row: Met): NotebookEntry {
  return {
    model: row.model,
    deviceClass: row.device_class,
    feed: row.feed,
    volts: row.volts,
    amps: row.amps,
    phase: row.pattern && patternTypes[row.pattern].phase,
    setup: row.pattern && patternTypes[row.pattern].phase === 'before' ? 'before power-on' : '',
    circuit: row.circuit,
    element: row.element,
    hits: 1,
    of: 1,
    at: row.closed_at,
    who: row.technician,
    source: row.job_id === null ? { kind: 'library', id: row.library_id ?? 0 } : { kind: 'job', id: row.job_id },
    origin: row.origin || null,
  };
}

function entryOfNote(row: Note): NotebookEntry {
  const { model, device_class: deviceClass, feed, volts, amps, setup, circuit, element, hits, of } = row;
  const source = { kind: 'note' as const, id: row.id };
  return {
    model,
    deviceClass,
    feed,
    volts,
    amps,
    phase: phaseSaid(setup),
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

const quantity = (label: string, kind: 'A' | 'V') =>
  yup
    .string()
    .trim()
    .default('')
    .test(
      'quantity',
      ({ value }: { value: string }) =>
        `${label}: "${value}" is not a ${kind === 'A' ? 'current; expected such as 0.18 A or 180 mA' : 'voltage; expected such as 18 V'}`,
      (text) => text === '' || quantityOf(text, kind) !== null,
    );

function quantityOf(text: string, kind: 'A' | 'V'): number | null {
  if (text === '') return null;
  const parsed = parseQuantity(text, kind === 'A' ? 'current' : 'voltage');
  return parsed.ok && parsed.value >= 0 && parsed.value <= 1000 ? parsed.value : null;
}

export const noteInput = yup.object({
  id: yup.number().integer().positive().nullable().default(null),
  model: yup.string().trim().max(120, 'Model: at most 120 characters').required('Model: enter the model'),
  deviceClass: yup.string().oneOf(deviceClasses).required(),
  feed: yup.string().oneOf(feeds).nullable().default(null),
  amps: quantity('Level', 'A'),
  volts: quantity('Voltage', 'V'),
  setup: yup.string().trim().max(200, 'Setup: at most 200 characters').default(''),
  circuit: yup.string().oneOf(circuitIds, 'Circuit: choose one').required('Circuit: choose one'),
  element: yup.string().trim().max(120, 'Part: at most 120 characters').default(''),
  hits: yup
    .number()
    .typeError('Times confirmed: expected a number')
    .integer('Times confirmed: expected a whole number')
    .min(0, 'Times confirmed: cannot be negative')
    .max(100_000, 'Times confirmed: at most 100,000')
    .required(),
  of: yup
    .number()
    .typeError('Times seen: expected a number')
    .integer('Times seen: expected a whole number')
    .min(1, 'Times seen: at least one')
    .max(100_000, 'Times seen: at most 100,000')
    .required()
    .when('hits', ([hits], schema) => schema.min(hits as number, 'Times seen: cannot be less than times confirmed')),
});

type NoteInput = yup.InferType<typeof noteInput>;

/** Keeps a line of the notebook, or corrects one. */
export async function keepNote(input: NoteInput): Promise<number> {
  if (input.amps === '' && input.setup === '')
    throw new ExpectedError('input', 'Level: enter the current, or describe in the setup which rails were up.');
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
      await addAudit(q, null, 'notebook: line changed', { id: input.id });
      return input.id;
    }
    const [{ id }] = await q('notes').insert(row).returning('id');
    await addAudit(q, null, 'notebook: line added', { id });
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
    await addAudit(q, null, `notebook: line ${isTaken ? 'deleted' : 'restored'}`, { id });
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
  const same = (column: string): string => `${modelKeyOf(column)} = ${modelKeyOf('?')}`;
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
    await addAudit(q, null, `model renamed: ${from} is ${name}`, { from, to: name, jobs, notes, cases });
    return jobs;
  });
}
