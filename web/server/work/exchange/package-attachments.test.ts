import { createHash } from 'node:crypto';
import { bytesAccess, readPackage, zipFiles, writeZip, type PackedFile } from '@umbral/core';
import sharp from 'sharp';
import { giveTestDatabase } from '../../../testing/database.ts';
import { attachPicture, attachmentInput, pointInput, setPoint } from '../entries/attachments.ts';
import { pictureInput } from '../../record/board-input.ts';
import { keepPicture } from '../boards/boards.ts';
import { db, transaction } from '../../record/db.ts';
import { dumpsOf, saveDump } from '../entries/dumps.ts';
import { jobInput } from '../../record/input.ts';
import { exportPackage, storePackage } from './packages.ts';
import { addTypedRun } from '../entries/record.ts';
import * as jobEdits from '../entries/job-edits.ts';
import * as entries from '../entries/job-entries.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const photo = (): Promise<Buffer> =>
  sharp({ create: { width: 40, height: 30, channels: 3, background: '#446688' } })
    .jpeg()
    .toBuffer();
const once = async function* (bytes: Uint8Array): AsyncGenerator<Uint8Array> {
  yield await Promise.resolve(bytes);
};

async function jobWithPictures(): Promise<number> {
  const jobId = await jobEdits.createJob(jobInput.validateSync({ label: 'tablet', deviceClass: 'tablet', intake: {} }));
  await addTypedRun(jobId, 'battery 4V: 0 | prompt 0.3 hold', undefined);
  await entries.addCheck({ jobId, check: 'screen', outcome: 'dark', note: '' });
  const [{ id: run }] = (await db()('runs').where({ job_id: jobId }).select('id')) as { id: number }[];
  const [{ id: check }] = (await db()('checks').where({ job_id: jobId }).select('id')) as { id: number }[];
  for (const [of, caption] of [
    ['job', 'the whole board'],
    [`run:${run}`, 'the meter'],
    [`check:${check}`, 'dark'],
  ])
    await attachPicture(attachmentInput.validateSync({ jobId, of, caption }), once(await photo()));
  const [{ id: pictureId }] = (await db()('attachments').where({ job_id: jobId }).orderBy('id')) as { id: number }[];
  const point = { x: 0.25, y: 0.5, says: 'corrosion' };
  await setPoint(pointInput.validateSync({ jobId, pictureId, point }));
  await saveDump(jobId, 'boot chip, first', once(Buffer.from('what the chip held')));
  return jobId;
}

/** The package of a job, its files changed on the way. */
async function throughPackage(
  jobId: number,
  change: (files: PackedFile[]) => void = () => undefined,
  more: readonly string[] = [],
): Promise<number> {
  const { zip } = await exportPackage(jobId);
  const bytes = new Uint8Array(await new Response(zip).arrayBuffer());
  const files = await zipFiles(bytesAccess(bytes), 'case.zip');
  const names = ['case.json', 'pictures/001.jpg', 'pictures/002.jpg', 'pictures/003.jpg', 'dumps/01.bin', ...more];
  const packed: PackedFile[] = [];
  for (const name of names) {
    const parts: Uint8Array[] = [];
    for await (const part of files.open(name)) parts.push(part);
    packed.push({ name, content: parts });
  }
  change(packed);
  const changed = await zipFiles(bytesAccess(await writeZip(packed)), 'case.zip');
  const found = await readPackage(changed);
  return transaction((q) => storePackage(q, found, changed));
}

test('what a job has of its board on a map comes along as pictures of the job', async () => {
  const jobId = await jobWithPictures();
  const front = { model: 'wren of the shelf', jobId };
  for (const input of [{ caption: 'as it came' }, { kind: 'heat' }])
    await keepPicture(pictureInput.validateSync({ ...front, ...input }), await photo());
  const back = await throughPackage(jobId, undefined, ['pictures/board-1.jpg', 'pictures/board-2.jpg']);
  const pictures = await db()('attachments').where({ job_id: back }).orderBy('id');
  expect(pictures.slice(3).map((p) => [p.of_kind, p.caption])).toEqual([
    ['job', 'front of the board: as it came'],
    ['job', 'heat, front of the board'],
  ]);
});

test('pictures and dumps go into the package and come back where they belong', async () => {
  const jobId = await jobWithPictures();
  const back = await throughPackage(jobId);
  const pictures = await db()('attachments').where({ job_id: back }).orderBy('id');
  expect(pictures.map((p) => [p.of_kind, p.caption, p.width])).toEqual([
    ['job', 'the whole board', 40],
    ['run', 'the meter', 40],
    ['check', 'dark', 40],
  ]);
  expect(pictures[0].point).toEqual({ x: 0.25, y: 0.5, says: 'corrosion' });
  expect(() => pointInput.validateSync({ jobId, pictureId: 1, point: { x: 1.2, y: 0 } })).toThrow();
  const [dump] = await dumpsOf(db(), back);
  expect(dump).toMatchObject({ name: 'boot chip, first', size: 18 });
  expect(dump.sha256).toBe(createHash('sha256').update('what the chip held').digest('hex'));
  // They are stored, and not kept a second time among the keys that nobody knows.
  expect((await db()('jobs').where({ id: back }).first('extra')) as { extra: object }).toEqual({ extra: {} });
});

test.each<[string, (files: PackedFile[]) => void, RegExp]>([
  [
    'a dump that was changed',
    (files) => (files[4].content = [new TextEncoder().encode('something else')]),
    /dumps\/01\.bin: its SHA-256 is .*the content was changed/,
  ],
  ['a picture that is missing', (files) => files.splice(2, 1), /pictures\[1\]\.file: there is no file/],
  [
    'a picture that is none',
    (files) => (files[1].content = [new TextEncoder().encode('<svg/>')]),
    /pictures\/001\.jpg: This picture/,
  ],
])('%s is refused with its place, and nothing is stored', async (_, change, says) => {
  const jobId = await jobWithPictures();
  const count = async (): Promise<number> => Number((await db()('jobs').count({ n: '*' }).first())?.n);
  const before = await count();
  await expect(throughPackage(jobId, change)).rejects.toThrow(says);
  expect(await count()).toBe(before);
});
