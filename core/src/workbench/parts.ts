import type { CircuitId, DeviceClass } from '../catalogue/index.ts';
import settings from './parts.json';

/** A kind of part on the shelf. */
export interface PartKind {
  id: number;
  name: string;
  /** Number as it stands on it, without its suffix. */
  number: string;
  suffix: string;
  /** Suffixes that it stands in for. */
  fits: readonly string[];
  /** What it is for; null for any kind of device, empty for any model. */
  deviceClass: DeviceClass | null;
  model: string;
  circuit: CircuitId;
  onHand: number;
  /** For jobs, out of what is on hand. */
  reserved: number;
  /** Under way. */
  ordered: number;
  minimum: number;
}

/** How often a part was taken for repairs of a circuit. */
export interface PartUse {
  partId: number;
  circuit: CircuitId;
  times: number;
}

/** A part that a job is likely to need. */
interface LikelyPart {
  partId: number;
  circuit: CircuitId;
  /** Probability that the repair needs it. */
  p: number;
  /** On the shelf and for nobody else. */
  free: number;
}

const sameText = (a: string, b: string): boolean => a.trim().toLowerCase() === b.trim().toLowerCase();

/** Whether a part is for such a device. */
function isFor(part: Pick<PartKind, 'deviceClass' | 'model'>, deviceClass: DeviceClass, model: string): boolean {
  return (
    (part.deviceClass === null || part.deviceClass === deviceClass) &&
    (part.model === '' || sameText(part.model, model))
  );
}

/**
 * What the repair of a device is likely to need: the probability of each circuit, shared among the parts for it by how often each was
 * taken for that circuit; a part that was never taken counts as one that was taken once.
 *
 * @param circuits probability by circuit
 * @returns the likeliest first
 */
export function likelyParts(
  circuits: ReadonlyMap<CircuitId, number>,
  parts: readonly PartKind[],
  uses: readonly PartUse[],
  device: { deviceClass: DeviceClass; model: string },
): LikelyPart[] {
  const fitting = parts.filter((part) => isFor(part, device.deviceClass, device.model));
  const weight = (part: PartKind): number =>
    settings.priorUses +
    uses.reduce((sum, u) => sum + (u.partId === part.id && u.circuit === part.circuit ? u.times : 0), 0);
  const total = new Map<CircuitId, number>();
  for (const part of fitting) total.set(part.circuit, (total.get(part.circuit) ?? 0) + weight(part));
  return fitting
    .map((part) => ({
      partId: part.id,
      circuit: part.circuit,
      p: ((circuits.get(part.circuit) ?? 0) * weight(part)) / (total.get(part.circuit) ?? 1),
      free: part.onHand - part.reserved,
    }))
    .filter((l) => l.p >= settings.minShare)
    .sort((a, b) => b.p - a.p || a.partId - b.partId)
    .slice(0, settings.maxShown);
}

/**
 * How a part stands to the one that comes off: the same suffix, one that it stands in for, or another one, which is asked about.
 *
 * @param wanted suffix of the part that comes off; empty where nobody noted it
 */
export function suffixMatch(
  part: Pick<PartKind, 'suffix' | 'fits'>,
  wanted: string,
): 'same' | 'stands-in' | 'other' | 'unknown' {
  if (wanted.trim() === '') return part.suffix === '' ? 'same' : 'unknown';
  if (sameText(part.suffix, wanted)) return 'same';
  return part.fits.some((f) => sameText(f, wanted)) ? 'stands-in' : 'other';
}

/** How many must be ordered so that the minimum is kept, with what is reserved and under way. */
export function toOrder({
  onHand,
  reserved,
  ordered,
  minimum,
}: Pick<PartKind, 'onHand' | 'reserved' | 'ordered' | 'minimum'>): number {
  return Math.max(0, minimum + reserved - onHand - ordered);
}
