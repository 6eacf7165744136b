import type { Marker, MarkerEvent } from '@umbral/core';
import type { Preview } from '@/server/record/rows/run-rows';

/** What several runs can be laid over each other by: something that happened in each, their beginning, or the clock. */
export type Anchor = MarkerEvent | 'begin' | 'clock';

export interface Alignable {
  preview: Preview;
  markers: Marker[];
  /** When its first row was taken; null where nobody knows. */
  startedAt: Date | null;
}

/** Markers that runs are laid over each other by, the most telling first. */
const order: MarkerEvent[] = ['prompt', 'output-on', 'plug', 'part-off', 'part-on', 'flip', 'unplug', 'output-off'];
/** Runs that began this near to each other may belong to one moment, seconds. */
const togetherS = 600;

const timeOf = ({ markers }: Alignable, event: MarkerEvent): number | undefined =>
  markers.find((m) => m.event === event)?.t;

/** What these runs can be aligned by, the most telling first. */
export function anchorsOf(runs: readonly Alignable[]): Anchor[] {
  const shared = order.filter((event) => runs.every((r) => timeOf(r, event) !== undefined));
  const starts = runs.map((r) => r.startedAt?.getTime() ?? NaN);
  const near = Math.max(...starts) - Math.min(...starts) <= 1000 * togetherS;
  return [...shared, 'begin', ...(near && runs.length > 1 ? (['clock'] as const) : [])];
}

/** The instant of each run that is laid over the others', seconds of its own time. */
export function anchorTimes(runs: readonly Alignable[], anchor: Anchor): number[] {
  const first = Math.min(...runs.map((r) => r.startedAt?.getTime() ?? 0));
  return runs.map((r) => {
    if (anchor === 'begin') return r.preview.t0;
    if (anchor === 'clock') return (first - (r.startedAt?.getTime() ?? first)) / 1000;
    return timeOf(r, anchor) ?? r.preview.t0;
  });
}

/** The common stretch of time, in seconds from the anchor. */
export function commonAxis(runs: readonly Alignable[], anchors: readonly number[]): { from: number; to: number } {
  const from = Math.min(...runs.map((r, k) => r.preview.t0 - anchors[k]));
  const to = Math.max(...runs.map((r, k) => r.preview.t1 - anchors[k]));
  return { from, to: Math.max(to, from + 1e-3) };
}

export const pathWidth = 1000;
export const pathHeight = 100;

/**
 * The silhouette of a run on the common axis, 1000 by 100.
 *
 * @param anchorT of this run, seconds of its own time
 * @param highest current that fills the height, amperes
 */
export function alignedPath(
  preview: Preview,
  anchorT: number,
  { from, to }: { from: number; to: number },
  highest: number,
): string {
  const n = preview.mean.length;
  const x = (k: number): number =>
    (pathWidth * (preview.t0 + (k / n) * (preview.t1 - preview.t0) - anchorT - from)) / (to - from);
  let path = `M${x(0).toFixed(1)} ${pathHeight}`;
  preview.mean.forEach((level, k) => {
    const y = pathHeight - (pathHeight - 4) * Math.sqrt(Math.max(0, level ?? 0) / highest);
    path += `V${y.toFixed(1)}H${x(k + 1).toFixed(1)}`;
  });
  return n === 0 ? '' : `${path}V${pathHeight}Z`;
}

/** Round seconds for the axis, from the anchor on both sides. */
export function axisTicks({ from, to }: { from: number; to: number }): number[] {
  const step =
    [0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 30, 60, 120, 300, 600, 1800, 3600].find((s) => (to - from) / s <= 9) ?? 7200;
  const ticks: number[] = [];
  for (let k = Math.ceil(from / step); k * step <= to; k++) ticks.push(Number((k * step).toFixed(3)));
  return ticks;
}
