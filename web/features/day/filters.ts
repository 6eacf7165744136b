import type { SheetEntry } from '@/server/work/day/sheet';

/** What of the run sheet is shown: everything, what fits into a gap, what needs no hands on a device. */
export const sheetFilters = {
  all: { name: 'Everything', fits: () => true },
  short: { name: 'I have 15 minutes', fits: ({ next }) => next.minutes <= 15 },
  wet: { name: 'No-touch jobs', fits: ({ next }) => next.depth === 0 && next.uses.length === 0 },
} as const satisfies Readonly<Record<string, { name: string; fits: (entry: Pick<SheetEntry, 'next'>) => boolean }>>;

export type SheetFilter = keyof typeof sheetFilters;

/**
 * The order that results when one job is dragged to another place: what stands above it stays above it, as it was shown.
 *
 * @param order job ids as they are shown
 * @returns job ids that stand first from now on
 */
export function draggedOrder(order: readonly number[], moved: number, over: number): number[] {
  const from = order.indexOf(moved);
  const to = order.indexOf(over);
  if (from < 0 || to < 0) return [];
  const next = order.filter((id) => id !== moved);
  next.splice(to, 0, moved);
  return next.slice(0, to + 1);
}

/**
 * Jobs with a hazard that stood before a job and would stand after it: what can hurt somebody comes first.
 *
 * @param order job ids as they are shown
 * @param first what {@link draggedOrder} gives
 */
export function passedHazards(
  order: readonly number[],
  first: readonly number[],
  isHazard: (id: number) => boolean,
): number[] {
  const moved = first[first.length - 1];
  return order.slice(0, order.indexOf(moved)).filter((id) => isHazard(id) && !first.includes(id));
}
