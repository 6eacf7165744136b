import { alignmentThrough } from '@umbral/core';
import { addAudit } from '../../record/audit.ts';
import { readBoardText } from '../../analysis/files.ts';
import { json, transaction, type Queries } from '../../record/db.ts';
import { insertMany } from '../../record/insert-many.ts';
import { ExpectedError } from '../../record/errors.ts';
import { keepPicture, pictureBytes, sidesOf } from './boards.ts';
import { boardFormat, type BoardFile } from '../../analysis/board-format.ts';
import { pictureInput } from '../../record/board-input.ts';

/**
 * The map of a model for another shop: nothing of any job is in it.
 *
 * @param withPictures the copies that are shown at first; without them the file is small, and points stand on an empty board
 * @returns null for a model without a map
 */
export async function boardFileOf(q: Queries, model: string, withPictures: boolean): Promise<BoardFile | null> {
  const sides = await sidesOf(q, model, null);
  if (sides.length === 0) return null;
  const good = await q('reference_readings').where({ model_key: model }).orderBy('id');
  return {
    format: boardFormat,
    model,
    sides: await Promise.all(
      sides.map(async ({ revision, side, part, height, points, pictures }) => ({
        ...{ revision, side, part, height },
        points: points.map(({ x, y, kind, name, net, circuit }) => ({ x, y, kind, name, net, circuit })),
        pictures: await Promise.all(
          (withPictures ? pictures : []).map(async ({ id, caption, pairs }) => ({
            caption,
            pairs: pairs.map(({ from, to }) => ({ from: [...from], to: [...to] })),
            jpeg: (await pictureBytes(id, 'middle')).toString('base64'),
          })),
        ),
      })),
    ),
    good: good.map(({ where, mode, phase, red_probe, value, ol }) => ({
      where,
      mode,
      phase,
      redProbe: red_probe,
      value,
      ol,
    })),
  };
}

/** What came of a map that was brought. */
export interface TakenBoard {
  model: string;
  sides: number;
  points: number;
  good: number;
  /** Sides that are here already, in words; they were left as they are. */
  known: string[];
}

/**
 * Takes a map in: sides that are here already are left as they are, and readings that are here already are not counted twice.
 *
 * @throws {ExpectedError} for pictures that are none, or shared points that cannot be; nothing is kept then
 */
export async function takeBoard(q: Queries, file: BoardFile): Promise<TakenBoard> {
  const taken: TakenBoard = { model: file.model, sides: 0, points: 0, good: 0, known: [] };
  for (const { revision, side, part, height, points, pictures } of file.sides) {
    const key = { model_key: file.model, revision, side, part };
    if (await q('board_sides').where(key).whereNull('deleted_at').first('id')) {
      taken.known.push([side, part, revision && `revision ${revision}`].filter(Boolean).join(', '));
      continue;
    }
    const [{ id: sideId }] = await q('board_sides')
      .insert({ ...key, height })
      .returning('id');
    if (points.some((p) => p.y > height)) throw new ExpectedError('input', `${side}: a point lies outside the board.`);
    await insertMany(
      q,
      'board_points',
      points.map((p) => ({ ...p, side_id: sideId })),
    );
    for (const { caption, pairs, jpeg } of pictures) {
      const read = pairs as unknown as Parameters<typeof alignmentThrough>[0];
      try {
        alignmentThrough(read);
      } catch (error) {
        throw new ExpectedError('input', `${side}: ${(error as Error).message}`);
      }
      const input = pictureInput.validateSync({ model: file.model, sideId, caption });
      const { pictureId } = await keepPicture(input, Buffer.from(jpeg, 'base64'), q);
      await q('board_pictures')
        .where({ id: pictureId })
        .update({ pairs: json(read) });
    }
    taken.sides++;
    taken.points += points.length;
  }
  taken.good = await takeGood(q, file);
  await addAudit(q, null, `board map of ${file.model} taken in`, { ...taken });
  return taken;
}

/** Readings that are looked at without a pause. */
const readingsAtOnce = 1000;

/** Several boards may read the same: as many of one value are kept as the file has, or as are here. */
async function takeGood(q: Queries, { model, good }: BoardFile): Promise<number> {
  const here = await q('reference_readings').where({ model_key: model });
  const keyOf = (
    r: { where: string; mode: string; phase: unknown; value: number | null; ol: boolean },
    probe: unknown,
  ) => `${r.mode} ${String(r.phase)} ${String(probe)} ${r.value} ${r.ol} ${r.where}`;
  const left = new Map<string, number>();
  for (const r of here) left.set(keyOf(r, r.red_probe), (left.get(keyOf(r, r.red_probe)) ?? 0) + 1);
  let taken = 0;
  // Piece by piece, so that pages are served between two of them.
  for (let from = 0; from < good.length; from += readingsAtOnce) {
    const rows: object[] = [];
    for (const { redProbe, mode, phase, ...r } of good.slice(from, from + readingsAtOnce)) {
      const key = keyOf({ ...r, mode, phase }, redProbe);
      const known = left.get(key) ?? 0;
      if (known > 0) {
        left.set(key, known - 1);
        continue;
      }
      if (
        (mode === 'voltage') !== (phase !== null) ||
        (mode === 'voltage') !== (redProbe === null) ||
        r.ol !== (r.value === null)
      )
        throw new ExpectedError('input', `good, ${r.where}: the reading does not say how it was taken.`);
      rows.push({ ...r, mode, phase, red_probe: redProbe, model_key: model, job_id: null });
    }
    await insertMany(q, 'reference_readings', rows);
    taken += rows.length;
  }
  return taken;
}

/**
 * Reads a map from the text of a file, on a thread of its own, and takes it in.
 *
 * @param model that the map is for, where somebody brings it to one; null for whatever it says
 * @throws {ExpectedError} for what is no map, with the place and what was expected, or for another model
 */
export async function takeBoardText(content: string, model: string | null): Promise<TakenBoard> {
  const file = await readBoardText(content);
  if (model !== null && file.model !== model)
    throw new ExpectedError('input', `This map is of ${file.model}, not of ${model}. Nothing was saved.`);
  return transaction((q) => takeBoard(q, file));
}
