import { fitCalibration, type CalibratedQuantity, type CalibrationPoint } from '@umbral/core';
import type { BenchSettings } from '@umbral/instruments';
import { noCalibration, readInstrument, type InstrumentSpec } from '@umbral/instruments/spec';
import { addressOf } from '@umbral/instruments/reach';
import { addAudit } from '../../record/audit.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { conflict, ExpectedError, missing } from '../../record/errors.ts';
import { loadPolicy } from '../../work/shop/policy.ts';
import { ask, reloadBenches } from './recorder.ts';
import type { CalibrationRow, InstrumentRow } from '../../record/tables.ts';

export type { CalibrationRow };

/** An instrument with its version, 0 where nobody has changed it yet, and its last calibrations. */
export interface KnownInstrument {
  spec: InstrumentSpec;
  version: number;
  /** The bench that it is at; null for the one beside the database. */
  benchId: number | null;
  calibrations: CalibrationRow[];
}

export interface BenchInstruments {
  instruments: KnownInstrument[];
  dialects: BenchSettings['dialects'];
  problems: string[];
}

/** The instruments of the bench with what the recorder says of them; without a recorder those that are described. */
export async function loadInstruments(): Promise<BenchInstruments> {
  const q = db();
  const [rows, calibrations] = await Promise.all([
    q<InstrumentRow>('instruments').orderBy('id'),
    q<CalibrationRow>('calibrations').orderBy('id', 'desc').limit(500),
  ]);
  const heard = await settingsOfRecorder();
  const specs = new Map(rows.map((r) => [r.key, r.spec]));
  const untouched = heard.instruments.filter((s) => s.simulated && !specs.has(s.key));
  const known = (spec: InstrumentSpec, version: number, benchId: number | null): KnownInstrument => ({
    spec,
    version,
    benchId,
    calibrations: calibrations.filter((c) => c.instrument_key === spec.key),
  });
  return {
    instruments: [...untouched.map((s) => known(s, 0, null)), ...rows.map((r) => known(r.spec, r.version, r.bench_id))],
    dialects: heard.dialects,
    problems: heard.problems,
  };
}

async function settingsOfRecorder(): Promise<BenchSettings> {
  try {
    return await ask<BenchSettings>('recorder', '/settings');
  } catch (error) {
    if (!(error instanceof ExpectedError)) throw error;
    return { instruments: [], dialects: [], problems: [error.message] };
  }
}

/** The recorder takes what was saved; what it cannot use is said, and is saved all the same. */
async function takeOver(): Promise<string[]> {
  await reloadBenches();
  try {
    return (await ask<BenchSettings>('recorder', '/reload', {})).problems;
  } catch (error) {
    if (!(error instanceof ExpectedError)) throw error;
    return [`It is saved. ${error.message}`];
  }
}

/**
 * Refuses an address in no network that instruments may be in.
 *
 * @throws {ExpectedError} naming the address and where a lead allows more
 */
async function refuseForeign(q: Queries, { transport }: InstrumentSpec): Promise<void> {
  if (transport.kind !== 'tcp') return;
  const { networks } = await loadPolicy(q);
  await addressOf(transport.host, networks).catch((error: Error) => {
    throw new ExpectedError('input', `Address: ${error.message}`);
  });
}

/** A short name for addresses, made of the name that people use. */
function keyOf(name: string): string {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^-+|-+$/g, '');
  return plain.slice(0, 60) || 'instrument';
}

function checked(spec: unknown): InstrumentSpec {
  try {
    return readInstrument(spec);
  } catch (error) {
    if (error instanceof RangeError) throw new ExpectedError('input', error.message);
    throw error;
  }
}

async function write(q: Queries, spec: InstrumentSpec, version: number, benchId?: number | null): Promise<void> {
  const json = JSON.stringify(spec);
  if (version === 0) {
    const made = await q('instruments')
      .insert({ key: spec.key, spec: json, bench_id: benchId ?? null })
      .onConflict('key')
      .ignore()
      .returning('id');
    if (made.length === 0) throw conflict();
    return;
  }
  const changed = await q('instruments')
    .where({ key: spec.key, version })
    .update({
      spec: json,
      version: version + 1,
      updated_at: q.fn.now(),
      ...(benchId === undefined ? {} : { bench_id: benchId }),
    });
  if (changed === 0) throw conflict();
}

/** What the settings say of an instrument; how it is corrected is said by calibrating. */
export type InstrumentInput = Pick<InstrumentSpec, 'name' | 'kind' | 'transport' | 'dialect'> & {
  /** The bench that it is at; null for the one beside the database. */
  benchId?: number | null;
};

/**
 * Keeps an instrument, a new one where `key` is null.
 *
 * @returns what the recorder could not use
 * @throws {ExpectedError} for a description that cannot be read, or one that somebody else changed meanwhile
 */
export async function saveInstrument(
  key: string | null,
  version: number,
  { benchId = null, ...input }: InstrumentInput,
): Promise<{ key: string; problems: string[] }> {
  const saved = await transaction(async (q) => {
    const row = key === null ? null : await q<InstrumentRow>('instruments').where({ key }).first();
    const was = row?.spec ?? (key === null ? null : await untouchedOf(key));
    if (key !== null && !was) throw missing('This instrument');
    const spec = checked({
      ...input,
      key: key ?? (await freeKey(q, keyOf(input.name))),
      calibration: was?.calibration ?? noCalibration,
      simulated: was?.simulated ?? false,
    });
    // A bench elsewhere looks at its own network.
    if (benchId === null) await refuseForeign(q, spec);
    await write(q, spec, key === null ? 0 : version, benchId);
    await addAudit(q, null, was ? 'instrument changed' : 'instrument added', {
      instrument: spec.key,
      from: was?.transport ?? null,
      to: spec.transport,
      bench: benchId,
    });
    return spec.key;
  });
  return { key: saved, problems: await takeOver() };
}

async function freeKey(q: Queries, wanted: string): Promise<string> {
  const taken = new Set((await q<InstrumentRow>('instruments').select('key')).map((r) => r.key));
  for (const s of (await settingsOfRecorder()).instruments) taken.add(s.key);
  for (let k = 1; ; k++) {
    const key = k === 1 ? wanted : `${wanted}-${k}`;
    if (!taken.has(key)) return key;
  }
}

/** A simulated instrument that nobody has changed yet stands in no row. */
async function untouchedOf(key: string): Promise<InstrumentSpec | null> {
  const found = (await settingsOfRecorder()).instruments.find((s) => s.key === key && s.simulated);
  return found ? checked(found) : null;
}

/** Whether nothing real hangs on an instrument. One that is not known is taken for a real one. */
export async function isSimulated(key: string): Promise<boolean> {
  const row = await db()<InstrumentRow>('instruments').where({ key }).first();
  const spec = row?.spec ?? (await untouchedOf(key));
  return spec?.transport.kind === 'simulated';
}

/** Takes an instrument away; its recordings and calibrations stay. Returns it, so that it can be put back. */
export async function removeInstrument(
  key: string,
  version: number,
): Promise<{ spec: InstrumentSpec; problems: string[] }> {
  const spec = await transaction(async (q) => {
    const row = await q<InstrumentRow>('instruments').where({ key }).forUpdate().first();
    if (!row) throw missing('This instrument');
    if (row.version !== version) throw conflict();
    await q('instruments').where({ key }).delete();
    await addAudit(q, null, 'instrument removed', { instrument: key, from: row.spec.transport });
    return row.spec;
  });
  return { spec, problems: await takeOver() };
}

/** Puts back what was taken away a moment ago. */
export async function restoreInstrument(spec: unknown): Promise<string[]> {
  await transaction(async (q) => {
    const back = checked(spec);
    await refuseForeign(q, back);
    await write(q, back, 0);
    await addAudit(q, null, 'instrument restored', { instrument: back.key, to: back.transport });
  });
  return takeOver();
}

/**
 * Corrects an instrument by points taken against a trusted meter. Runs that were recorded before keep their own.
 *
 * @throws {ExpectedError} for points that give no usable line, or an instrument that is not there
 */
export async function saveCalibration(
  key: string,
  quantity: CalibratedQuantity,
  points: CalibrationPoint[],
  by: { against: string; technician: string },
): Promise<{ gain: number; offset: number; problems: string[] }> {
  let fitted: { gain: number; offset: number };
  try {
    fitted = fitCalibration(points, quantity);
  } catch (error) {
    if (error instanceof RangeError) throw new ExpectedError('input', error.message);
    throw error;
  }
  const { gain, offset } = fitted;
  await transaction(async (q) => {
    const row = await q<InstrumentRow>('instruments').where({ key }).forUpdate().first();
    const spec = row?.spec ?? (await untouchedOf(key));
    if (!spec) throw missing('This instrument');
    const change = quantity === 'voltage' ? { gainV: gain, offsetV: offset } : { gainA: gain, offsetA: offset };
    const next = checked({ ...spec, calibration: { ...spec.calibration, ...change } });
    await write(q, next, row?.version ?? 0);
    await q('calibrations').insert({
      instrument_key: key,
      quantity,
      points: JSON.stringify(points),
      gain,
      offset,
      against: by.against,
      technician: by.technician,
    });
  });
  return { gain, offset, problems: await takeOver() };
}
