import type { Bench } from './queries';
import type { RunSheet } from '@/server/work/day/sheet';

/** What of the last run sheet stands on this screen while the record cannot be reached: no more than what is read off it. */
export interface KeptSheet {
  madeAt: string;
  lines: { jobId: number; label: string; next: string; why: string }[];
  waits: { jobId: number; label: string; says: string; until: string | null }[];
}

const key = 'umbral-last-sheet';

/** Keeps the run sheet in this browser. */
export function rememberSheet({ bench, sheet }: { bench: Bench; sheet: RunSheet }): void {
  const labels = new Map(bench.jobs.map((j) => [j.id, j.label]));
  const kept: KeptSheet = {
    madeAt: sheet.madeAt,
    lines: sheet.entries
      .filter((e) => e.isReady)
      .map((e) => ({
        jobId: e.jobId,
        label: labels.get(e.jobId) ?? '',
        next: e.next.name,
        why: e.why,
      })),
    waits: sheet.waits.map(({ jobId, label, words, kind, until }) => ({ jobId, label, says: words || kind, until })),
  };
  try {
    localStorage.setItem(key, JSON.stringify(kept));
  } catch {
    // No room, or none allowed: then nothing stands in for it.
  }
}

/** The run sheet that was last shown in this browser; null where there is none that can be read. */
export function lastSheet(): KeptSheet | null {
  try {
    const kept = JSON.parse(localStorage.getItem(key) ?? 'null') as KeptSheet | null;
    return kept && Array.isArray(kept.lines) && Array.isArray(kept.waits) ? kept : null;
  } catch {
    return null;
  }
}

/** Nothing of it stays on a screen that somebody signed out of. */
export function forgetSheet(): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Nothing could be kept either.
  }
}
