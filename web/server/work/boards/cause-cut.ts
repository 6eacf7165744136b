import { cutOut, regionAround, type Point, type Profile } from '@umbral/core';
import sharp from 'sharp';
import { db, type Queries } from '../../record/db.ts';
import { missing } from '../../record/errors.ts';
import { modelKeyOf } from '../opened/measure.ts';
import type { JobRow } from '../../record/rows.ts';
import { alignmentOf, pictureBytes, sidesOf, type KeptPicture } from './boards.ts';
import { pointMeant } from './causes.ts';

/** Where the cause of a closed job is on its board, and the pictures that show it. */
interface CausePlace {
  x: number;
  y: number;
  /** The net that it is at; empty where only an area was marked. */
  net: string;
  /** This device's own pictures in order of time, else the model's. */
  pictures: Pick<KeptPicture, 'id' | 'created_at' | 'job_id'>[];
}

const centreOf = (area: readonly Point[]): Point => [
  area.reduce((sum, p) => sum + p[0], 0) / area.length,
  area.reduce((sum, p) => sum + p[1], 0) / area.length,
];

/**
 * Where on the board the cause was: at the point of what the job was closed with, else where somebody marked its circuit.
 *
 * @returns null where the map does not know the place
 */
export async function causePlace(
  q: Queries,
  job: Pick<JobRow, 'id' | 'profile' | 'model' | 'outcome_circuit' | 'outcome_target'>,
  profile: Profile | null,
): Promise<CausePlace | null> {
  const model = modelKeyOf(job);
  if (job.outcome_circuit === null || model === '') return null;
  for (const side of await sidesOf(q, model, job.id)) {
    const photos = side.pictures.filter((p) => p.kind === 'photo');
    const own = photos.filter((p) => p.job_id !== null);
    const pictures = own.length > 0 ? own : photos.slice(0, 1);
    const point = pointMeant(side.points, job.outcome_target, profile);
    if (point) return { x: point.x, y: point.y, net: point.net, pictures };
    const mark = side.marks.find((m) => m.circuit === job.outcome_circuit);
    if (mark) {
      const [x, y] = centreOf(mark.area);
      return { x, y, net: '', pictures };
    }
  }
  return null;
}

/** Share of the board's width that a cut shows, and its pixels across. */
const [cutShare, cutPx] = [0.3, 480];
const ring =
  '<svg width="64" height="64"><circle cx="32" cy="32" r="26" fill="none" stroke="#fff" stroke-width="8"/><circle cx="32" cy="32" r="26" fill="none" stroke="#ad3d0b" stroke-width="4"/></svg>';

/** A part of a board around a place, as one of its pictures shows it, with a ring where it is. JPEG. */
export async function cutImage(pictureId: number, [x, y]: Point): Promise<Buffer> {
  const picture = await db()<KeptPicture>('board_pictures')
    .where({ id: pictureId })
    .whereNull('deleted_at')
    .first<KeptPicture | undefined>('id', 'side_id', 'pairs');
  const side = picture && (await db()('board_sides').where({ id: picture.side_id }).first('height'));
  if (!picture || !side) throw missing('This picture');
  const { data, info } = await sharp(await pictureBytes(pictureId, 'image'))
    .removeAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const region = regionAround([x, y], side.height, cutShare);
  const cut = cutOut({ ...info, data }, alignmentOf(picture), region, cutPx);
  const channels = cut.channels as 1 | 3;
  const [cx, cy] = [((x - region.x) / region.width) * cut.width, ((y - region.y) / region.width) * cut.width];
  return sharp(Buffer.from(cut.data), { raw: { width: cut.width, height: cut.height, channels } })
    .composite([{ input: Buffer.from(ring), left: Math.round(cx - 32), top: Math.round(cy - 32) }])
    .jpeg({ quality: 85 })
    .toBuffer();
}
