import {
  alignmentThrough,
  heightOf,
  inPicture,
  namedChecks,
  onBoard,
  type Alignment,
  type BoardSide,
  type Pair,
  type Point,
  type Profile,
  type Quad,
} from '@umbral/core';
import sharp from 'sharp';
import type { InferType } from 'yup';
import { putBackEntry, takeBackEntry } from '../entries/corrections.ts';
import { addCheck } from '../entries/job-entries.ts';
import { bytesOf, maxPictureBytes, repaint } from '../entries/attachments.ts';
import { addAudit } from '../../record/audit.ts';
import { db, json, transaction, type Queries } from '../../record/db.ts';
import { ExpectedError, missing } from '../../record/errors.ts';
import { findProfile } from '../shop/profiles.ts';
import type { BoardMarkRow, BoardPictureRow, BoardPointRow, BoardSideRow } from '../../record/tables.ts';
import type {
  layInput,
  markInput,
  mergeInput,
  pictureInput,
  pointInput,
  removeInput,
  straightenInput,
} from '../../record/board-input.ts';

/** Longer side of a picture as it is kept, and of the copy that is shown at first. Pixels. */
const [keptEdge, middleEdge] = [4096, 1600];
/** All pictures of one model together. Bytes. */
const mostOfModel = 300e6;

export type KeptPicture = Omit<BoardPictureRow, 'image' | 'middle' | 'deleted_at' | 'person_id'>;

/** A side of a board with all that lies on it. */
export interface KeptSide extends Pick<BoardSideRow, 'id' | 'revision' | 'side' | 'part' | 'height'> {
  pictures: KeptPicture[];
  points: BoardPointRow[];
  marks: BoardMarkRow[];
}

/**
 * The sides of a model's board, those of one revision after the other.
 *
 * @param jobId pictures of this job lie on them as well; null for the model alone
 */
export async function sidesOf(q: Queries, model: string, jobId: number | null): Promise<KeptSide[]> {
  const sides = await q('board_sides')
    .where({ model_key: model })
    .whereNull('deleted_at')
    .orderBy(['revision', { column: 'side', order: 'desc' }, 'part', 'id']);
  const ids = sides.map((s) => s.id);
  const pictures = await q<KeptPicture>('board_pictures')
    .whereIn('side_id', ids)
    .whereNull('deleted_at')
    .where((w) => void w.whereNull('job_id').orWhere('job_id', jobId ?? 0))
    .orderBy('id')
    .select('id', 'side_id', 'job_id', 'kind', 'caption', 'pairs', 'width', 'height', 'created_at');
  const points = await q('board_points').whereIn('side_id', ids).whereNull('deleted_at').orderBy('id');
  const marks = await q('board_marks')
    .whereIn('side_id', ids)
    .whereNull('deleted_at')
    .where({ job_id: jobId ?? 0 })
    .orderBy('id');
  const on = <T extends { side_id: number }>(rows: readonly T[], id: number): T[] =>
    rows.filter((r) => r.side_id === id);
  return sides.map(({ id, revision, side, part, height }) => ({
    ...{ id, revision, side, part, height },
    pictures: on(pictures, id),
    points: on(points, id),
    marks: on(marks, id),
  }));
}

/** How a picture lies on its side. */
export const alignmentOf = ({ pairs }: Pick<KeptPicture, 'pairs'>): Alignment => alignmentThrough(pairs);

const cornersOf = (height: number): Quad => [
  [0, 0],
  [1, 0],
  [1, height],
  [0, height],
];

const paired = (from: Quad, to: Quad): Pair[] => from.map((corner, k) => ({ from: corner, to: to[k] }));

/**
 * Keeps a picture of a board, on a side that is there or on a new one that begins with it. It lies there from corner to corner until
 * somebody says where its corners, or shared points, are.
 *
 * @throws {ExpectedError} for what is no picture, or where the pictures of the model would be too large together
 */
export async function addPicture(
  input: InferType<typeof pictureInput>,
  source: AsyncIterable<Uint8Array>,
): Promise<{ sideId: number; pictureId: number; isNew: boolean }> {
  const bytes = await bytesOf(source, maxPictureBytes, 'Picture');
  return keepPicture(input, bytes);
}

/** A longer side of a picture of a board, in shorter ones. */
const slimmest = 8;

/** The same for a picture that is there as bytes. */
export async function keepPicture(
  input: InferType<typeof pictureInput>,
  bytes: Buffer,
  within?: Queries,
): Promise<{ sideId: number; pictureId: number; isNew: boolean }> {
  const { image, width, height } = await repaint(bytes, keptEdge);
  const times = Math.round(Math.max(height / width, width / height));
  if (times > slimmest)
    throw new ExpectedError(
      'input',
      `Picture: one side is ${times} times as long as the other; expected at most ${slimmest} times.`,
    );
  const middle = await sharp(image)
    .resize(middleEdge, middleEdge, { fit: 'inside', withoutEnlargement: true })
    .jpeg({ quality: 80, mozjpeg: true })
    .toBuffer();
  const work = async (q: Queries) => {
    // Two uploads at once must not both find room, nor make the same side twice.
    await q.raw('SELECT pg_advisory_xact_lock(?, hashtext(?))', [4713, input.model]);
    const [{ total }] = await q('board_pictures')
      .join('board_sides', 'board_sides.id', 'board_pictures.side_id')
      .where({ model_key: input.model })
      .whereNull('board_pictures.deleted_at')
      .select<{ total: string | null }[]>(q.raw('sum(length(image)) as total'));
    if (Number(total ?? 0) + image.length > mostOfModel)
      throw new ExpectedError('input', `Pictures of this board: more than ${mostOfModel / 1e6} MB. Remove some first.`);
    const { side, isNew } = await sideFor(q, input, height / width);
    const from = cornersOf(height / width);
    const columns = { side_id: side.id, job_id: input.jobId, kind: input.kind, caption: input.caption };
    const pairs = json(paired(from, cornersOf(side.height)));
    const [row] = await q('board_pictures')
      .insert({ ...columns, pairs, width, height, image, middle })
      .returning<{ id: number }[]>('id');
    await addAudit(q, input.jobId, `board picture kept: ${side.side} of ${input.model}`, { picture: row.id });
    return { sideId: side.id, pictureId: row.id, isNew };
  };
  return within ? work(within) : transaction(work);
}

async function sideFor(q: Queries, input: InferType<typeof pictureInput>, height: number) {
  const { model, sideId, side, part, revision } = input;
  if (sideId !== null) {
    const row = await q('board_sides').where({ id: sideId, model_key: model }).whereNull('deleted_at').first();
    if (!row) throw missing('This side of the board');
    return { side: row, isNew: false };
  }
  const key = { model_key: model, revision, side: side as BoardSide, part };
  const there = await q('board_sides').where(key).whereNull('deleted_at').first();
  if (there) return { side: there, isNew: false };
  if (input.kind === 'heat') throw new ExpectedError('input', 'Heat picture: add a photograph of this side first.');
  const [made] = await q('board_sides')
    .insert({ ...key, height })
    .returning('*');
  return { side: made, isNew: true };
}

/** The bytes of a picture: as it is kept, or the copy that is shown at first. */
export async function pictureBytes(pictureId: number, size: 'image' | 'middle'): Promise<Buffer> {
  const row = await db()('board_pictures')
    .where({ id: pictureId })
    .whereNull('deleted_at')
    .first<{ bytes: Buffer } | undefined>({ bytes: size });
  if (!row) throw missing('This picture');
  return row.bytes;
}

/** Pixels across in which the hottest place is looked at: smaller than a part, larger than noise. */
const [heatAcross, heatBlur] = [160, 1.5];

/**
 * Where a heat picture is brightest, on the board: thermal cameras draw what is warmest brightest.
 *
 * @returns widths of the board
 * @throws {ExpectedError} where it lies so that its brightest place is not on the board
 */
export async function hottestPlace(pictureId: number): Promise<{ x: number; y: number }> {
  const { picture, side } = await pictureAndSide(db(), pictureId);
  const { data, info } = await sharp(await pictureBytes(pictureId, 'middle'))
    .greyscale()
    .resize(heatAcross)
    .blur(heatBlur)
    .raw()
    .toBuffer({ resolveWithObject: true });
  const at = data.reduce((best, value, k) => (value > data[best] ? k : best), 0);
  const place: Point = [((at % info.width) + 0.5) / info.width, (Math.floor(at / info.width) + 0.5) / info.width];
  const [x, y] = onBoard(alignmentOf(picture), place);
  if (x < 0 || x > 1 || y < 0 || y > side.height)
    throw new ExpectedError(
      'input',
      'The brightest place is outside the board. Align the heat picture by points first.',
    );
  return { x, y };
}

/** This device's own pictures of its board, with what they show in words. */
export async function boardPicturesOf(q: Queries, jobId: number): Promise<{ id: number; says: string }[]> {
  const rows = await q('board_pictures as p')
    .join('board_sides as s', 's.id', 'p.side_id')
    .where({ job_id: jobId })
    .whereNull('p.deleted_at')
    .orderBy('p.id')
    .select<{ id: number; kind: string; caption: string; side: string }[]>('p.id', 'p.kind', 'p.caption', 's.side');
  return rows.map(({ id, kind, caption, side }) => ({
    id,
    says: [`${kind === 'heat' ? 'heat, ' : ''}${side} of the board`, caption].filter(Boolean).join(': '),
  }));
}

async function pictureAndSide(q: Queries, pictureId: number) {
  const picture = await q<KeptPicture>('board_pictures')
    .where({ id: pictureId })
    .whereNull('deleted_at')
    .first<KeptPicture | undefined>('id', 'side_id', 'job_id', 'pairs', 'width', 'height');
  const side = picture && (await q('board_sides').where({ id: picture.side_id }).whereNull('deleted_at').first());
  if (!picture || !side) throw missing('This picture');
  return { picture, side };
}

const inWords = <T>(work: () => T): T => {
  try {
    return work();
  } catch (error) {
    throw error instanceof RangeError ? new ExpectedError('input', error.message) : error;
  }
};

/**
 * Lays a picture on its side by shared points.
 *
 * @returns how it lay before
 * @throws {ExpectedError} where the points cannot be, in words
 */
export async function layPicture({ pictureId, pairs }: InferType<typeof layInput>): Promise<Pair[]> {
  const read = pairs as unknown as Pair[];
  inWords(() => alignmentThrough(read));
  return transaction(async (q) => {
    const { picture, side } = await pictureAndSide(q, pictureId);
    await q('board_pictures')
      .where({ id: pictureId })
      .update({ pairs: json(read) });
    await addAudit(q, picture.job_id, `picture laid on the ${side.side} of the board`, { picture: pictureId });
    return picture.pairs;
  });
}

/**
 * Straightens a side by the corners of the board in one of its pictures. Whatever stands on the side moves with the picture, so that it
 * is where it was seen.
 *
 * @returns the corners that it had before
 * @throws {ExpectedError} for corners that are not those of a board, in words
 */
export async function straighten({ pictureId, corners }: InferType<typeof straightenInput>): Promise<Quad> {
  const quad = corners as unknown as Quad;
  const height = inWords(() => heightOf(quad));
  return transaction(async (q) => {
    const { picture, side } = await pictureAndSide(q, pictureId);
    const before = alignmentOf(picture);
    const after = alignmentThrough(paired(quad, cornersOf(height)));
    const moved = (p: Point): Point => onBoard(after, inPicture(before, p));
    const isInside = ([x, y]: Point): boolean => x >= 0 && x <= 1 && y >= 0 && y <= height;
    const points = await q('board_points').where({ side_id: side.id });
    const outside = points.filter((p) => !p.deleted_at && !isInside(moved([p.x, p.y])));
    if (outside.length > 0)
      throw new ExpectedError(
        'input',
        `Corners: ${outside.map((p) => p.name || p.net).join(', ')} would lie outside the board. Move or remove ${outside.length === 1 ? 'it' : 'them'} first.`,
      );
    for (const p of points.filter((x) => isInside(moved([x.x, x.y])))) {
      const [x, y] = moved([p.x, p.y]);
      await q('board_points').where({ id: p.id }).update({ x, y });
    }
    for (const m of await q('board_marks').where({ side_id: side.id }))
      await q('board_marks')
        .where({ id: m.id })
        .update({ area: json(m.area.map(moved)) });
    for (const other of await q<KeptPicture>('board_pictures').where({ side_id: side.id }).select('id', 'pairs')) {
      const pairs =
        other.id === pictureId
          ? paired(quad, cornersOf(height))
          : other.pairs.map(({ from, to }) => ({ from, to: moved(to) }));
      await q('board_pictures')
        .where({ id: other.id })
        .update({ pairs: json(pairs) });
    }
    await q('board_sides').where({ id: side.id }).update({ height });
    await addAudit(q, picture.job_id, `${side.side} of the board straightened`, { side: side.id });
    return cornersOf(side.height).map((corner) => inPicture(before, corner)) as unknown as Quad;
  });
}

/** A rail's id where its name was typed. */
const netOf = (profile: Profile | null, typed: string): string => {
  const is = (x: string): boolean => x.toLowerCase() === typed.toLowerCase();
  return profile?.rails.find((r) => is(r.id) || is(r.name))?.id ?? typed;
};

/**
 * Keeps a point, new or changed.
 *
 * @returns its number, and what it was before; null for a new one
 * @throws {ExpectedError} for one outside the board
 */
export async function keepPoint(
  input: InferType<typeof pointInput>,
): Promise<{ id: number; was: BoardPointRow | null }> {
  return transaction(async (q) => {
    const side = await q('board_sides').where({ id: input.sideId }).whereNull('deleted_at').first();
    if (!side) throw missing('This side of the board');
    if (input.y > side.height) throw new ExpectedError('input', 'Point: outside the board');
    const profile = (await findProfile(q, side.model_key))?.profile ?? null;
    const net = netOf(profile, input.net);
    const rail = profile?.rails.find((r) => r.id === net);
    const circuit = input.circuit ?? rail?.circuit ?? null;
    const { x, y, kind, name } = input;
    const columns = { side_id: side.id, x, y, kind, name, net, circuit };
    if (input.id === null) {
      const [row] = await q('board_points').insert(columns).returning<{ id: number }[]>('id');
      await addAudit(q, null, `point added: ${name || net}`, { point: row.id, model: side.model_key });
      return { id: row.id, was: null };
    }
    const was = await q('board_points').where({ id: input.id, side_id: side.id }).whereNull('deleted_at').first();
    if (!was) throw missing('This point');
    await q('board_points').where({ id: was.id }).update(columns);
    await addAudit(q, null, `point changed: ${name || net}`, { point: was.id, was: { ...was, created_at: undefined } });
    return { id: was.id, was };
  });
}

/**
 * Makes one net of two: their points share readings from now on.
 *
 * @returns the points that changed
 */
export async function mergeNets({ sideId, from, into }: InferType<typeof mergeInput>): Promise<number[]> {
  return transaction(async (q) => {
    const side = await q('board_sides').where({ id: sideId }).first();
    if (!side) throw missing('This side of the board');
    const sides = q('board_sides').where({ model_key: side.model_key, revision: side.revision }).select('id');
    const changed = await q('board_points')
      .whereIn('side_id', sides)
      .where({ net: from })
      .whereNull('deleted_at')
      .update({ net: into })
      .returning<{ id: number }[]>('id');
    await addAudit(q, null, `net ${from} merged into ${into}`, { model: side.model_key, points: changed.length });
    return changed.map((c) => c.id);
  });
}

/** Puts points to a net: what undoes a merge. */
export async function setNet(points: readonly number[], net: string): Promise<void> {
  await transaction(async (q) => {
    await q('board_points')
      .whereIn('id', [...points])
      .update({ net });
    await addAudit(q, null, `points put to net ${net}`, { points });
  });
}

/**
 * Keeps what was seen on an area of a job's board; it is an observation as words would be.
 *
 * @returns its number
 */
export async function keepMark(input: InferType<typeof markInput>): Promise<number> {
  const side = await db()('board_sides').where({ id: input.sideId }).whereNull('deleted_at').first();
  if (!side) throw missing('This side of the board');
  const { jobId, kind, where, circuit, fed } = input;
  const area = input.area as unknown as [number, number][];
  const common = { jobId, note: '', where: where || `${side.side} of the board`, circuit, after: undefined };
  const checkId = await addCheck(
    kind === 'heat'
      ? { ...common, check: namedChecks.heat, outcome: 'one-spot', rail: fed }
      : { ...common, check: namedChecks.look, outcome: kind },
  );
  return transaction(async (q) => {
    const columns = { side_id: side.id, job_id: jobId, kind, area: json(area), where, circuit, check_id: checkId };
    const [row] = await q('board_marks').insert(columns).returning<{ id: number }[]>('id');
    await addAudit(q, jobId, `marked on the board: ${kind}`, { mark: row.id });
    return row.id;
  });
}

const removable = {
  side: 'board_sides',
  picture: 'board_pictures',
  point: 'board_points',
  mark: 'board_marks',
} as const;

/** Takes something off the map, or puts it back; nothing is deleted. */
export async function setOffMap({ of, id, removed }: InferType<typeof removeInput>): Promise<void> {
  const row = await transaction(async (q) => {
    const [changed] = await q(removable[of as keyof typeof removable])
      .where({ id })
      .update({ deleted_at: removed ? q.fn.now() : null })
      .returning<{ id: number; job_id?: number | null; check_id?: number | null }[]>('*');
    if (!changed) throw missing(`This ${of}`);
    await addAudit(q, changed.job_id ?? null, `board ${of} ${removed ? 'removed' : 'restored'}`, { id });
    return changed;
  });
  if (of === 'mark' && row.check_id && row.job_id)
    await (removed ? takeBackEntry : putBackEntry)(row.job_id, 'checks', row.check_id);
}

/** The revision that a job's board is of, as somebody read it from the print. */
export async function setRevision(jobId: number, revision: string): Promise<void> {
  await transaction(async (q) => {
    await q('job_boards').insert({ job_id: jobId, revision }).onConflict('job_id').merge(['revision']);
    await addAudit(q, jobId, `board revision: ${revision || 'not named'}`);
  });
}
