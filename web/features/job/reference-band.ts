import { repeatability } from '@umbral/core';
import type { Preview } from '@/server/record/rows/run-rows';
import type { ReferenceRun } from '@/server/work/jobs/references';

interface Band {
  low: (number | null)[];
  high: (number | null)[];
}

/**
 * The band that runs of healthy units span, moved so that their presses fall on the press of the run in hand, or their
 * switching on on its beginning.
 *
 * @param promptT press of the run in hand, seconds; null where there was none
 * @returns amperes for every stretch of the picture; null where there is no run to compare with
 */
export function referenceBand(
  preview: Preview,
  promptT: number | null,
  references: readonly ReferenceRun[],
): Band | null {
  const fitting = references.filter((r) => r.prompted === (promptT !== null));
  if (fitting.length === 0) return null;
  const n = preview.mean.length;
  const low: (number | null)[] = [];
  const high: (number | null)[] = [];
  for (let k = 0; k < n; k++) {
    const t = preview.t0 + ((k + 0.5) / n) * (preview.t1 - preview.t0);
    const seen = fitting.flatMap((r) => at(r, t - (promptT ?? preview.t0)));
    low.push(seen.length === 0 ? null : Math.min(...seen.map((s) => s.low)) * (1 - repeatability));
    high.push(seen.length === 0 ? null : Math.max(...seen.map((s) => s.high)) * (1 + repeatability));
  }
  return { low, high };
}

/** What a reference drew a time after its own anchor, its neighbours included, since two starts never keep one pace. */
function at({ preview, anchorT }: ReferenceRun, after: number): { low: number; high: number }[] {
  const { t0, t1, low, high, mean } = preview;
  const n = mean.length;
  const k = Math.floor((((anchorT ?? t0) + after - t0) / (t1 - t0)) * n);
  const out: { low: number; high: number }[] = [];
  for (let j = Math.max(0, k - 2); j <= Math.min(n - 1, k + 2); j++) {
    const level = mean[j];
    if (level !== null) out.push({ low: low[j] ?? level, high: high[j] ?? level });
  }
  return out;
}
