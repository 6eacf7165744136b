import { formatVoltage } from '@umbral/core/words';
import type { Preview } from '@/server/record/rows/run-rows';

/** Space around the plot; the marker lane below keeps to it. */
export const plotMargin = { top: 22, right: 14, bottom: 0, left: 0 };
export const axisWidth = 58;
export const xAxisHeight = 30;
export const chartHeight = 372;

/** Where the voltage changes to a new level that holds, for labels. */
export function voltageSteps(preview: Preview): { t: number; volts: number; label: string }[] {
  const n = preview.volts.length;
  const held = Math.max(4, Math.round(n / 40));
  const steps: { t: number; volts: number; label: string }[] = [];
  let k = 0;
  while (k < n) {
    const volts = preview.volts[k];
    if (volts === null) {
      k++;
      continue;
    }
    let end = k;
    while (
      end < n &&
      preview.volts[end] !== null &&
      Math.abs(preview.volts[end]! - volts) <= Math.max(0.35, 0.06 * volts)
    )
      end++;
    const last = steps.at(-1);
    const isNew = !last || Math.abs(last.volts - volts) > Math.max(0.5, 0.08 * volts);
    if (end - k >= held && isNew) {
      steps.push({
        t: preview.t0 + (k / n) * (preview.t1 - preview.t0),
        volts,
        label: formatVoltage(meanOf(preview.volts.slice(k, end))),
      });
    }
    k = Math.max(end, k + 1);
  }
  if (steps.length === 1) steps[0].label += ', steady';
  return steps.slice(0, 6);
}

function meanOf(volts: (number | null)[]): number | null {
  const known = volts.filter((v) => v !== null);
  return known.length === 0 ? null : known.reduce((sum, v) => sum + v, 0) / known.length;
}
