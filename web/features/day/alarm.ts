import type { RunningWait } from '@/server/work/entries/waits';

/** Waits whose alarm rings now: over, and nobody has heard it. */
export function ringingWaits(waits: readonly RunningWait[], nowMs: number): RunningWait[] {
  return waits.filter((w) => w.until !== null && !w.heard && Date.parse(w.until) <= nowMs);
}

/** The title of a page with how many alarms ring before it; that of the page itself where none does. */
export function titleWith(title: string, count: number): string {
  const plain = title.replace(/^\(\d+\) /, '');
  return count > 0 ? `(${count}) ${plain}` : plain;
}
