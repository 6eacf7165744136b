import type { Alignment, CircuitId, MarkKind, Pair, Point, PointKind, Profile } from '@umbral/core';
import { alignmentOf, sidesOf, type KeptPicture, type KeptSide } from '@/server/work/boards/boards';
import { causesOf, netsOf, pointMeant, sayCause } from '@/server/work/boards/causes';
import type { Queries } from '@/server/record/db';

export interface MapPicture {
  id: number;
  /** Of this job's device alone. */
  isOwn: boolean;
  kind: 'photo' | 'heat';
  caption: string;
  /** Pixels. */
  width: number;
  height: number;
  pairs: Pair[];
  alignment: Alignment;
}

/** Where a probe goes. Widths of the board. */
export interface MapPoint {
  id: number;
  x: number;
  y: number;
  kind: PointKind;
  /** As the shop calls it; empty where nobody named it. */
  name: string;
  net: string;
  /** The net in words. */
  netName: string;
  circuit: CircuitId | null;
  /** Probability of the suspects that it stands for, 0 to 1. */
  suspicion: number;
  /** Earlier causes at its net, in words. */
  causes: string[];
}

export interface MapMark {
  id: number;
  kind: MarkKind;
  area: readonly Point[];
  where: string;
}

export interface MapSide {
  id: number;
  /** "front", "back, upper half". */
  name: string;
  height: number;
  pictures: MapPicture[];
  points: MapPoint[];
  marks: MapMark[];
}

export interface BoardView {
  model: string;
  modelName: string;
  jobId: number | null;
  sides: MapSide[];
  revision: string;
  /** More than one where the model's boards differ. */
  revisions: string[];
  /** Nobody has said yet which of them lies here. */
  isRevisionOpen: boolean;
  /** Rails that a point may be of, by id. */
  nets: { id: string; name: string }[];
}

/** A suspect, with what it is of the profile. */
interface Suspect {
  id: string;
  circuit: string;
  p: number;
}

/**
 * The map of a model's board, for a job or for the model alone.
 *
 * @param model under which it is kept
 * @param profile of the model; null where it has none
 * @param suspects of the job; none for the model alone
 */
export async function loadBoard(
  q: Queries,
  of: { model: string; modelName: string; profile: Profile | null; jobId: number | null },
  suspects: readonly Suspect[] = [],
): Promise<BoardView> {
  const all = of.model === '' ? [] : await sidesOf(q, of.model, of.jobId);
  const revisions = [...new Set(all.map((s) => s.revision))];
  const chosen = of.jobId === null ? undefined : await q('job_boards').where({ job_id: of.jobId }).first('revision');
  const revision = revisions.find((r) => r === chosen?.revision) ?? revisions.at(-1) ?? '';
  const causes = (await causesOf(q, of.model)).flatMap((c) => {
    const point = pointMeant(
      all.flatMap((s) => s.points),
      c.target,
      of.profile,
    );
    return point ? [{ point: point.id, says: sayCause(c) }] : [];
  });
  const covered = suspects.map((s) => ({ ...s, nets: new Set(of.profile ? netsOf(of.profile, s.id) : []) }));
  const railNames = new Map(of.profile?.rails.map((r) => [r.id, r.name]));
  const pointOf = ({ id, x, y, kind, name, net, circuit }: KeptSide['points'][number]): MapPoint => ({
    ...{ id, x, y, kind, name, net, circuit },
    netName: railNames.get(net) ?? net,
    suspicion: covered
      .filter((s) => s.nets.has(net) || (!of.profile && s.circuit === circuit))
      .reduce((sum, s) => sum + s.p, 0),
    causes: causes.filter((c) => c.point === id).map((c) => c.says),
  });
  return {
    model: of.model,
    modelName: of.modelName,
    jobId: of.jobId,
    revision,
    revisions,
    isRevisionOpen: of.jobId !== null && revisions.length > 1 && !revisions.includes(chosen?.revision ?? '\0'),
    nets: of.profile?.rails.map(({ id, name }) => ({ id, name })) ?? [],
    sides: all
      .filter((s) => s.revision === revision)
      .map((s) => ({
        id: s.id,
        name: s.part ? `${s.side}, ${s.part}` : s.side,
        height: s.height,
        pictures: s.pictures.map(pictureOf),
        points: s.points.map(pointOf),
        marks: s.marks.map(({ id, kind, area, where }) => ({ id, kind, area, where })),
      })),
  };
}

function pictureOf(picture: KeptPicture): MapPicture {
  const { id, job_id, kind, caption, width, height, pairs } = picture;
  return { id, isOwn: job_id !== null, kind, caption, width, height, pairs, alignment: alignmentOf(picture) };
}
