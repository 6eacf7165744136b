import sharp from 'sharp';
import * as yup from 'yup';
import { addAudit } from '../../record/audit.ts';
import { db, json, plainText, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { id } from '../../record/input.ts';
import type * as Tables from '../../record/tables.ts';

/** A picture as it comes from a telephone; and how large it is kept. Bytes, pixels. */
export const maxPictureBytes = 25e6;
const maxPixels = 60e6;
const keptEdge = 1600;
const thumbEdge = 160;
/** All pictures of one job together. Bytes. */
export const maxOfJob = 200e6;

export const owners = { run: 'runs', reading: 'readings', action: 'actions', check: 'checks' } as const;
export type Owner = keyof typeof owners;

export const attachmentInput = yup.object({
  jobId: id,
  of: yup
    .string()
    .matches(/^(job|(run|reading|action|check):\d{1,9})$/, 'of: expected "job", or a kind and its number')
    .default('job'),
  caption: yup
    .string()
    .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
    .max(500, 'Caption: expected at most 500 characters')
    .default(''),
});

/** A picture without its bytes. */
export type AttachmentRow = Omit<Tables.AttachmentRow, 'image' | 'thumb' | 'deleted_at' | 'person_id'>;

export type PicturePoint = Tables.PicturePoint;

export const pointInput = yup.object({
  jobId: id,
  pictureId: id,
  /** Null takes the place away. */
  point: yup
    .object({
      x: yup.number().min(0).max(1).required(),
      y: yup.number().min(0).max(1).required(),
      says: yup
        .string()
        .transform((x: unknown) => (typeof x === 'string' ? plainText(x).trim() : x))
        .max(200, 'What is here: expected at most 200 characters')
        .default(''),
    })
    .nullable()
    .default(null),
});

/**
 * A body up to a size.
 *
 * @throws {ExpectedError} for an empty file, or one above the size that is kept
 */
export async function bytesOf(source: AsyncIterable<Uint8Array>, most: number, what: string): Promise<Buffer> {
  const blocks: Uint8Array[] = [];
  let size = 0;
  for await (const block of source) {
    size += block.length;
    if (size > most)
      throw new ExpectedError('input', `${what}: larger than ${Math.round(most / 1e6)} MB. Nothing was saved.`);
    blocks.push(block);
  }
  if (size === 0) throw new ExpectedError('input', `${what}: the file is empty.`);
  return Buffer.concat(blocks);
}

/**
 * The picture painted anew: upright, of a bounded size, as pixels alone. Where it was taken and by whom, and anything else
 * that a file can carry, does not survive.
 *
 * @param edge the longer side of the large one, pixels
 * @throws {ExpectedError} for what is no picture, or one of more pixels than are taken
 */
export async function repaint(
  bytes: Buffer,
  edge = keptEdge,
): Promise<{ image: Buffer; thumb: Buffer; width: number; height: number }> {
  try {
    const read = () => sharp(bytes, { limitInputPixels: maxPixels, failOn: 'error', animated: false }).rotate();
    // Drawings with script or references in them are no photographs.
    const { format, width = 0, height = 0 } = await sharp(bytes, { limitInputPixels: false }).metadata();
    if (!['jpeg', 'png', 'webp', 'heif', 'gif', 'tiff', 'avif'].includes(format)) throw new Error(`a ${format} file`);
    if (width * height > maxPixels)
      throw new Error(`${Math.round((width * height) / 1e6)} megapixels, at most ${maxPixels / 1e6} are taken`);
    const { data, info } = await read()
      .resize(edge, edge, { fit: 'inside', withoutEnlargement: true })
      // The smaller way of packing takes seconds for a large picture.
      .jpeg({ quality: 82, mozjpeg: edge <= keptEdge })
      .toBuffer({ resolveWithObject: true });
    const thumb = await read().resize(thumbEdge, thumbEdge, { fit: 'cover' }).jpeg({ quality: 70 }).toBuffer();
    return { image: data, thumb, width: info.width, height: info.height };
  } catch (error) {
    throw new ExpectedError(
      'input',
      `This picture cannot be read (${error instanceof Error ? error.message.split('\n')[0].slice(0, 120) : 'unknown'}); expected JPEG, PNG or WebP up to 25 MB.`,
    );
  }
}

/**
 * Keeps a picture with a job, or with one of its runs, readings, actions or checks.
 *
 * @throws {ExpectedError} where the pictures of the job would be too large together
 */
export async function attachPicture(
  input: yup.InferType<typeof attachmentInput>,
  source: AsyncIterable<Uint8Array>,
): Promise<number> {
  const [kind, number] = input.of.split(':') as ['job' | Owner, string | undefined];
  const q = db();
  const job = await q('jobs')
    .where({ id: input.jobId })
    .whereNull('deleted_at')
    .first<{ id: number } | undefined>('id');
  if (!job) throw missing(`Job ${input.jobId}`);
  if (kind !== 'job') {
    const owner = await q(owners[kind])
      .where({ id: Number(number), job_id: input.jobId })
      .first<{ id: number } | undefined>('id');
    if (!owner) throw missing(`What the picture belongs to (${input.of})`);
  }
  const picture = await repaint(await bytesOf(source, maxPictureBytes, 'Picture'));
  return q.transaction(async (t) => {
    // Two uploads at once must not both find room.
    await t.raw('SELECT pg_advisory_xact_lock(?, ?)', [4712, input.jobId]);
    const [{ total }] = await t('attachments')
      .where({ job_id: input.jobId })
      .whereNull('deleted_at')
      .select<{ total: string | null }[]>(t.raw('sum(length(image)) as total'));
    if (Number(total ?? 0) + picture.image.length > maxOfJob)
      throw new ExpectedError('input', `Pictures of this job: more than ${maxOfJob / 1e6} MB. Remove some first.`);
    const [row] = await t('attachments')
      .insert({
        job_id: input.jobId,
        of_kind: kind,
        of_id: kind === 'job' ? null : Number(number),
        caption: input.caption,
        ...picture,
      })
      .returning<{ id: number }[]>('id');
    await addAudit(t, input.jobId, `picture kept${input.caption ? `: ${input.caption}` : ''}`, { of: input.of });
    return row.id;
  });
}

/** The pictures of a job without their bytes. */
export async function attachmentsOf(q: Queries, jobId: number): Promise<AttachmentRow[]> {
  return q<AttachmentRow>('attachments')
    .where({ job_id: jobId })
    .whereNull('deleted_at')
    .orderBy('id')
    .select('id', 'job_id', 'of_kind', 'of_id', 'caption', 'width', 'height', 'point', 'created_at');
}

/** The bytes of a picture, large or small. */
export async function pictureOf(attachmentId: number, small: boolean): Promise<Buffer> {
  const row = await db()('attachments')
    .where({ id: attachmentId })
    .whereNull('deleted_at')
    .first<{ bytes: Buffer } | undefined>({ bytes: small ? 'thumb' : 'image' });
  if (!row) throw missing('This picture');
  return row.bytes;
}

/** Marks a place on a picture, or takes the mark away. */
export async function setPoint(input: yup.InferType<typeof pointInput>): Promise<void> {
  await transaction(async (q) => {
    const changed = await q('attachments')
      .where({ id: input.pictureId, job_id: input.jobId })
      .whereNull('deleted_at')
      .update({ point: input.point ? json(input.point) : null });
    if (changed === 0) throw missing('This picture');
    await addAudit(q, input.jobId, input.point ? `place marked on a picture: ${input.point.says}` : 'mark removed', {
      id: input.pictureId,
    });
  });
}

/** Takes a picture out of the record's use, or puts it back. */
export async function setPictureRemoved(jobId: number, attachmentId: number, removed: boolean): Promise<void> {
  await transaction(async (q) => {
    const changed = await q('attachments')
      .where({ id: attachmentId, job_id: jobId })
      .update({ deleted_at: removed ? q.fn.now() : null });
    if (changed === 0) throw missing('This picture');
    await addAudit(q, jobId, removed ? 'picture removed' : 'picture restored', { id: attachmentId });
  });
}
