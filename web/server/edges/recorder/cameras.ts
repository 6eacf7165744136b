import { readFraming, type Framing } from '@umbral/core/display';
import { addAudit } from '../../record/audit.ts';
import { db, transaction } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { saveInstrument } from './instruments.ts';
import type { InstrumentRow } from '../../record/tables.ts';

/** An instrument whose display a camera reads, with how it was framed last; null where nobody framed it yet. */
export interface CameraInstrument {
  key: string;
  name: string;
  framing: Framing | null;
}

/** The instruments that are read by a camera. */
export async function loadCameras(): Promise<CameraInstrument[]> {
  const rows = await db()<InstrumentRow>('instruments')
    .whereRaw("spec -> 'transport' ->> 'kind' = 'camera'")
    .orderBy('id')
    .select('key', 'spec', 'framing');
  return rows.map(({ key, spec, framing }) => ({ key, name: spec.name, framing: framingOf(framing) }));
}

/** What was kept by another version and cannot be read is framed anew. */
function framingOf(kept: unknown): Framing | null {
  try {
    return kept === null ? null : readFraming(kept);
  } catch {
    return null;
  }
}

/**
 * Adds an instrument whose display a camera reads, at the bench beside the database.
 *
 * @returns its key
 * @throws {ExpectedError} for a name that is none
 */
export async function addCamera(name: string): Promise<string> {
  const transport = { kind: 'camera' as const };
  const { key } = await saveInstrument(null, 0, { name: name.trim(), kind: 'meter', dialect: 'camera', transport });
  return key;
}

/**
 * Keeps how the display of an instrument is framed.
 *
 * @throws {ExpectedError} for a framing that cannot be, or an instrument that no camera reads
 */
export async function saveFraming(key: string, value: unknown): Promise<void> {
  let framing: Framing;
  try {
    framing = readFraming(value);
  } catch (error) {
    if (error instanceof RangeError) throw new ExpectedError('input', `${error.message}. Frame the numbers again.`);
    throw error;
  }
  await transaction(async (q) => {
    const changed = await q('instruments')
      .where({ key })
      .whereRaw("spec -> 'transport' ->> 'kind' = 'camera'")
      .update({ framing: JSON.stringify(framing) });
    if (changed === 0) throw missing('This camera');
    await addAudit(q, null, 'display framed', { instrument: key, numbers: framing.numbers.map((n) => n.quantity) });
  });
}
