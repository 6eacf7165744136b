import type { Preview } from '@/server/record/rows/run-rows';

interface Band {
  low: (number | null)[];
  high: (number | null)[];
}

/** Share of the picture that a run has to be out of the band for. */
export const outFor = 1 / 40;

/**
 * The first moment at which the run leaves the band for a while (a fortieth of the picture, or to its end).
 *
 * @param noiseA noise floor in A; a hair's breadth does not count
 * @returns seconds, or null where it never leaves
 */
export function leavesBand(preview: Preview, band: Band, noiseA: number): number | null {
  const n = preview.mean.length;
  const needed = Math.max(3, Math.round(n * outFor));
  let since = -1;
  for (let k = 0; k < n; k++) {
    const [level, low, high] = [preview.mean[k], band.low[k], band.high[k]];
    if (level === null || low === null || high === null) continue;
    const slack = 2 * noiseA + 0.002;
    const out = level > high * 1.1 + slack || level < low * 0.9 - slack;
    if (!out) since = -1;
    else if (since < 0) since = k;
    if (since >= 0 && (k - since >= needed || k === n - 1)) return preview.t0 + (since / n) * (preview.t1 - preview.t0);
  }
  return null;
}
