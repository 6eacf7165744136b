import type { Preview } from '@/server/record/rows/run-rows';

/** A stretch of a run, seconds. */
export interface Stretch {
  t0: number;
  t1: number;
}

/** Narrower than this share of the run nothing is shown any more: there are no samples between samples. */
const narrowest = 1e-6;

/** A stretch inside the run, never narrower than makes sense; null where it is the whole run. */
export function windowWithin(whole: Stretch, wanted: Stretch): Stretch | null {
  const span = whole.t1 - whole.t0;
  const width = Math.min(span, Math.max(wanted.t1 - wanted.t0, narrowest * span, 1e-4));
  if (!(width < span)) return null;
  const t0 = Math.min(whole.t1 - width, Math.max(whole.t0, wanted.t0));
  return { t0, t1: t0 + width };
}

/** Closer or further, keeping the middle. */
export function zoomed({ t0, t1 }: Stretch, factor: number): Stretch {
  const [middle, half] = [(t0 + t1) / 2, ((t1 - t0) * factor) / 2];
  return { t0: middle - half, t1: middle + half };
}

/** Earlier or later by a share of what is shown. */
export function panned({ t0, t1 }: Stretch, share: number): Stretch {
  const by = share * (t1 - t0);
  return { t0: t0 + by, t1: t1 + by };
}

/** Values of even stretches of the whole, as even stretches of a part of it. */
export function cropped<T>(values: readonly T[], whole: Stretch, part: Stretch, bins: number): (T | null)[] {
  const n = values.length;
  return Array.from({ length: bins }, (_, k) => {
    const t = part.t0 + ((k + 0.5) / bins) * (part.t1 - part.t0);
    const at = Math.floor(((t - whole.t0) / (whole.t1 - whole.t0)) * n);
    return values[Math.min(n - 1, Math.max(0, at))] ?? null;
  });
}

/** What is known of a part until its own picture has come. */
export function croppedPreview(whole: Preview, part: Stretch): Preview {
  const of = (values: (number | null)[]) => cropped(values, whole, part, values.length);
  const { low, mean, high, volts } = whole;
  return { ...part, low: of(low), mean: of(mean), high: of(high), volts: of(volts) };
}
