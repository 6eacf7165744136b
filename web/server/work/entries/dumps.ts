import { createHash } from 'node:crypto';
import { addAudit } from '../../record/audit.ts';
import { bytesOf } from './attachments.ts';
import { db, transaction, type Queries } from '../../record/db.ts';
import { missing } from '../../record/errors.ts';
import type { FirmwareDumpRow } from '../../record/tables.ts';

export const maxDumpBytes = 64e6;

/** A dump without its bytes. */
type DumpRow = Pick<FirmwareDumpRow, 'id' | 'name' | 'sha256' | 'size' | 'created_at'>;

/** Whether what a chip holds was read twice alike, which is what overwriting it asks for. */
export interface DumpsVerdict {
  isSafe: boolean;
  says: string;
}

/** Keeps what was read out of a chip, with its hash. */
export async function saveDump(jobId: number, name: string, source: AsyncIterable<Uint8Array>): Promise<DumpRow> {
  const content = await bytesOf(source, maxDumpBytes, 'Dump');
  const sha256 = createHash('sha256').update(content).digest('hex');
  return transaction(async (q) => {
    const job = await q('jobs').where({ id: jobId }).whereNull('deleted_at').first<{ id: number } | undefined>('id');
    if (!job) throw missing(`Job ${jobId}`);
    const [row] = await q('firmware_dumps')
      .insert({ job_id: jobId, name, sha256, size: content.length, content })
      .returning<DumpRow[]>(['id', 'name', 'sha256', 'size', 'created_at']);
    await addAudit(q, jobId, `dump kept: ${name}`, { sha256, size: content.length });
    return row;
  });
}

export async function dumpsOf(q: Queries, jobId: number): Promise<DumpRow[]> {
  return q<DumpRow & { job_id: number }>('firmware_dumps')
    .where({ job_id: jobId })
    .orderBy('id')
    .select('id', 'name', 'sha256', 'size', 'created_at');
}

/** Reading twice with the same hash shows that the contact was good and the content is what the chip holds. */
export function judgeDumps(dumps: readonly Pick<DumpRow, 'sha256' | 'size'>[]): DumpsVerdict {
  if (dumps.length === 0) return { isSafe: false, says: 'No dump yet. Dump the chip twice before overwriting it.' };
  if (dumps.length === 1)
    return { isSafe: false, says: 'One dump. Reseat the clip, dump the chip a second time and compare.' };
  const alike = dumps.some((a, k) => dumps.some((b, j) => j > k && a.sha256 === b.sha256));
  if (alike)
    return { isSafe: true, says: 'Two dumps match. The old content is saved, so the chip may be overwritten.' };
  const sizes = new Set(dumps.map((d) => d.size)).size > 1;
  return {
    isSafe: false,
    says: sizes
      ? 'The dumps have different lengths. A different chip or range was chosen. Dump again.'
      : 'The dumps differ. The contact is poor, or the chip gives random data. Clean the pins and dump again.',
  };
}

/** The bytes of a dump, to write them back. */
export async function dumpContent(jobId: number, dumpId: number): Promise<{ name: string; content: Buffer }> {
  const row = await db()('firmware_dumps')
    .where({ id: dumpId, job_id: jobId })
    .first<{ name: string; content: Buffer } | undefined>('name', 'content');
  if (!row) throw missing('This dump');
  return row;
}
