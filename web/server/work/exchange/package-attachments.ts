import { createHash } from 'node:crypto';
import { FormatError, pathProblem, readWhole, type Case, type PackageFiles, type PackedFile } from '@umbral/core';
import * as yup from 'yup';
import {
  attachmentsOf,
  maxOfJob,
  maxPictureBytes,
  owners,
  pictureOf,
  repaint,
  type Owner,
} from '../entries/attachments.ts';
import { boardPicturesOf, pictureBytes } from '../boards/boards.ts';
import { json, plainText, type Queries } from '../../record/db.ts';
import { dumpsOf, dumpContent, maxDumpBytes } from '../entries/dumps.ts';
import { ExpectedError } from '../../record/errors.ts';
import type { JobContent } from '../../record/rows.ts';

/** Keys of our own in `case.json`: pictures with what they belong to, contents of chips with their hashes. */
const text = (most: number) => yup.string().max(most, `expected at most ${most} characters`).default('');
const pictureEntry = yup.object({
  file: text(300).required('is missing; expected a path'),
  /** `job`, or a kind and its id or place: `run:r1`, `action:a1`, `check:0`, `reading:2`. */
  of: yup
    .string()
    .matches(/^(job|(run|action):.{1,200}|(check|reading):\d{1,6})$/, 'expected "job", or a kind and its id')
    .default('job'),
  caption: text(500),
  /** A place on it: shares of width and height. */
  point: yup
    .object({
      x: yup.number().min(0, 'expected 0 to 1').max(1, 'expected 0 to 1').required('is missing; expected 0 to 1'),
      y: yup.number().min(0, 'expected 0 to 1').max(1, 'expected 0 to 1').required('is missing; expected 0 to 1'),
      says: text(200),
    })
    .nullable()
    .default(null),
});
const dumpEntry = yup.object({
  file: text(300).required('is missing; expected a path'),
  name: text(200).required('is missing; expected a name'),
  sha256: yup
    .string()
    .matches(/^[0-9a-f]{64}$/, 'expected 64 hexadecimal digits')
    .required('is missing; expected 64 hexadecimal digits'),
});
const most = { pictures: 200, dumps: 20 };

/** The name in a package of what a picture belongs to; its id where it has one, else its place in the list. */
function ownerName(content: JobContent, kind: 'job' | Owner, id: number | null): string {
  if (kind === 'run') return `run:${content.record.runs.find((r) => r.id === id)?.run_key ?? ''}`;
  if (kind === 'action') return `action:${content.record.actions.find((a) => a.id === id)?.action_key ?? ''}`;
  if (kind === 'check') return `check:${content.record.checks.findIndex((c) => c.id === id)}`;
  if (kind === 'reading') return `reading:${content.record.readings.findIndex((r) => r.id === id)}`;
  return 'job';
}

/** Pictures and dumps of a job as files of its package, with the keys that name them. Read one by one as they are written. */
export async function attachmentFiles(
  q: Queries,
  content: JobContent,
): Promise<{ keys: Record<string, unknown>; files: PackedFile[] }> {
  const jobId = content.job.id;
  const attached = (await attachmentsOf(q, jobId)).map((p, k) => {
    const of = ownerName(content, p.of_kind, p.of_id);
    // What it belonged to was taken out: it stays a picture of the job.
    const stands = !/^(run|action):$|:-1$/.test(of);
    return {
      id: p.id,
      file: `pictures/${String(k + 1).padStart(3, '0')}.jpg`,
      of: stands ? of : 'job',
      caption: p.caption,
      ...(p.point ? { point: p.point } : {}),
      read: () => pictureOf(p.id, false),
    };
  });
  // Where the map of the model is not, this device's pictures of its board are pictures of the job.
  const onBoard = (await boardPicturesOf(q, jobId)).map(({ id, says }, k) => ({
    id,
    file: `pictures/board-${k + 1}.jpg`,
    of: 'job',
    caption: says,
    read: () => pictureBytes(id, 'image'),
  }));
  const pictures = [...attached, ...onBoard].slice(0, most.pictures);
  const dumps = (await dumpsOf(q, jobId)).map((d, k) => ({
    id: d.id,
    file: `dumps/${String(k + 1).padStart(2, '0')}.bin`,
    name: d.name,
    sha256: d.sha256,
  }));
  const lazily = async function* (read: () => Promise<Uint8Array>): AsyncGenerator<Uint8Array> {
    yield await read();
  };
  const named = (list: readonly { id: number; read?: unknown }[]): object[] =>
    list.map(({ id: _, read: __, ...rest }) => rest);
  return {
    keys: {
      ...(pictures.length > 0 ? { pictures: named(pictures) } : {}),
      ...(dumps.length > 0 ? { dumps: named(dumps) } : {}),
    },
    files: [
      ...pictures.map((p) => ({ name: p.file, content: lazily(p.read) })),
      ...dumps.map((d) => ({ name: d.file, content: lazily(async () => (await dumpContent(jobId, d.id)).content) })),
    ],
  };
}

/** The keys of a case without those that are stored as pictures and dumps. */
export function withoutAttachments(value: Case): Case {
  const { pictures: _, dumps: __, ...rest } = value.extra ?? {};
  return { ...value, extra: Object.keys(rest).length > 0 ? rest : undefined };
}

/**
 * Stores the pictures and dumps that a package names: pictures painted anew, dumps held against their hashes.
 *
 * @throws {FormatError} with the place of what is missing, too large, no picture, or not what its hash says
 */
export async function storeAttachments(q: Queries, jobId: number, value: Case, files: PackageFiles): Promise<void> {
  const pictures = listOf(value, 'pictures', pictureEntry, most.pictures);
  let total = 0;
  for (const [k, { file, of, caption, point }] of pictures.entries()) {
    const place = `pictures[${k}]`;
    const bytes = await bytesOf(files, file, `${place}.file`, maxPictureBytes);
    const picture = await repaint(Buffer.from(bytes)).catch((error: unknown) => {
      throw new FormatError(file, '', error instanceof ExpectedError ? error.message : 'is not a picture');
    });
    total += picture.image.length;
    if (total > maxOfJob) throw new FormatError('case.json', place, `pictures above ${maxOfJob / 1e6} MB in all`);
    const owner = await ownerOf(q, jobId, of);
    if (owner === null) throw new FormatError('case.json', `${place}.of`, `"${of}" is not in this case`);
    await q('attachments').insert({
      job_id: jobId,
      ...owner,
      caption: plainText(caption),
      point: point ? json(point) : null,
      ...picture,
    });
  }
  for (const [k, { file, name, sha256 }] of listOf(value, 'dumps', dumpEntry, most.dumps).entries()) {
    const place = `dumps[${k}]`;
    const content = Buffer.from(await bytesOf(files, file, `${place}.file`, maxDumpBytes));
    const found = createHash('sha256').update(content).digest('hex');
    if (found !== sha256)
      throw new FormatError(file, '', `its SHA-256 is ${found}, but case.json says ${sha256}; the content was changed`);
    await q('firmware_dumps').insert({ job_id: jobId, name: plainText(name), sha256, size: content.length, content });
  }
}

function listOf<T>(value: Case, key: 'pictures' | 'dumps', entry: yup.Schema<T>, atMost: number): T[] {
  const raw = value.extra?.[key];
  if (raw === undefined || raw === null) return [];
  if (!Array.isArray(raw)) throw new FormatError('case.json', key, 'expected a list');
  if (raw.length > atMost)
    throw new FormatError('case.json', key, `there are ${raw.length}; expected at most ${atMost}`);
  return raw.map((item: unknown, k) => {
    try {
      return entry.validateSync(item, { strict: false });
    } catch (error) {
      const { path, message } = error as yup.ValidationError;
      throw new FormatError('case.json', `${key}[${k}]${path ? `.${path}` : ''}`, message);
    }
  });
}

async function bytesOf(files: PackageFiles, file: string, place: string, atMost: number): Promise<Uint8Array> {
  const problem = pathProblem(file);
  if (problem) throw new FormatError('case.json', place, problem);
  const stat = await files.stat(file);
  if (!stat || stat.link) throw new FormatError('case.json', place, `there is no file "${file.slice(0, 80)}"`);
  const bytes = stat.size > atMost ? null : await readWhole(files, file, atMost);
  if (!bytes) throw new FormatError(file, '', `is larger than ${Math.round(atMost / 1e6)} MB`);
  return bytes;
}

/** The row that a picture belongs to, by its name in the package. */
async function ownerOf(
  q: Queries,
  jobId: number,
  of: string,
): Promise<{ of_kind: 'job' | Owner; of_id: number | null } | null> {
  if (of === 'job') return { of_kind: 'job', of_id: null };
  const at = of.indexOf(':');
  const [kind, name] = [of.slice(0, at) as Owner, of.slice(at + 1)];
  const rows = q(owners[kind]).where({ job_id: jobId }).orderBy('id');
  const row = (
    kind === 'run'
      ? await rows.where({ run_key: name }).first('id')
      : kind === 'action'
        ? await rows.where({ action_key: name }).first('id')
        : await rows.offset(Number(name)).first('id')
  ) as { id: number } | undefined;
  return row ? { of_kind: kind, of_id: row.id } : null;
}
