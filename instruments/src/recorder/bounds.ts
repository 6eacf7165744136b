import policy from './policy.json';

/** Bounds for the output beyond those of the bench, with their reason. Volts, amperes. */
export interface Bounds {
  maxV: number;
  maxA: number;
  why: string;
}

/** What may be armed of what was asked for, and why it is less; empty where nothing was cut. */
export interface Bounded {
  volts: number;
  limitA: number;
  clamped: string;
}

/**
 * Cuts what was asked for to what the device and the bench allow.
 *
 * @param volts above zero
 * @param limitA amperes, above zero
 * @param bench what this bench allows whatever is connected; volts, amperes
 * @example withinBounds(12, 1, { maxV: 4.4, maxA: 3, why: 'full battery' }) // 4.4 V, "12 V cut to 4.4 V: full battery"
 */
export function withinBounds(
  volts: number,
  limitA: number,
  bounds: Bounds,
  bench: Pick<Bounds, 'maxV' | 'maxA'> = policy,
): Bounded {
  const cuts: string[] = [];
  const cut = (value: number, device: number, most: number, unit: string): number => {
    const allowed = Math.min(device, most);
    if (value <= allowed) return value;
    const why = device <= most ? bounds.why : 'the bench limit';
    cuts.push(`${value} ${unit} cut to ${allowed} ${unit}: ${why}`);
    return allowed;
  };
  const safeV = cut(volts, bounds.maxV, bench.maxV, 'V');
  const safeA = cut(limitA, bounds.maxA, bench.maxA, 'A');
  return { volts: safeV, limitA: safeA, clamped: cuts.join('; ') };
}
