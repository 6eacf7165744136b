import { isSupply, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
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

/** A circuit that may be at fault. */
export interface SuspectedCircuit {
  p: number;
  /** How likely something is shorted there, where it is the cause; 0 to 1. */
  shorted?: number;
}

type Role = keyof typeof settings.ofShort;

/** What a part does in a supply, as its name tells. */
function roleOf(name: string): Role {
  const has = (role: Exclude<Role, 'load'>): boolean =>
    settings.words[role].some((word) => name.toLowerCase().includes(word));
  return has('converter') ? 'converter' : has('capacitor') ? 'capacitor' : 'load';
}

/**
 * How likely a repair needs such a part, if nothing like it is there. What is shorted is seldom the converter: a capacitor or
 * another load is, and a converter that is replaced on a shorted rail is no cure.
 *
 * @param name of the part, which tells what it does in a supply
 * @returns 0 to 1
 */
export function partNeed(name: string, circuit: CircuitId, circuits: ReadonlyMap<CircuitId, SuspectedCircuit>): number {
  const { p, shorted = 0 } = circuits.get(circuit) ?? { p: 0 };
  if (!isSupply(circuit)) return p;
  const role = roleOf(name);
  return p * (shorted * settings.ofShort[role] + (1 - shorted) * settings.otherwise[role]);
}

/**
 * What the repair of a device is likely to need, part by part: the probability of each circuit; of a supply, the share of its
 * repairs that need such a part; shared among like parts for it by how often each was taken for that circuit. A part that was
 * never taken counts as one that was taken once.
 *
 * @param circuits by circuit
 * @returns the likeliest first
 */
export function likelyParts(
  circuits: ReadonlyMap<CircuitId, SuspectedCircuit>,
  parts: readonly PartKind[],
  uses: readonly PartUse[],
  device: { deviceClass: DeviceClass; model: string },
): LikelyPart[] {
  const fitting = parts.filter((part) => isFor(part, device.deviceClass, device.model));
  const weight = (part: PartKind): number =>
    settings.priorUses +
    uses.reduce((sum, u) => sum + (u.partId === part.id && u.circuit === part.circuit ? u.times : 0), 0);
  const key = (part: PartKind): string =>
    isSupply(part.circuit) ? `${part.circuit} ${roleOf(part.name)}` : part.circuit;
  const total = new Map<string, number>();
  for (const part of fitting) total.set(key(part), (total.get(key(part)) ?? 0) + weight(part));
  return fitting
    .map((part) => ({
      partId: part.id,
      circuit: part.circuit,
      p: (partNeed(part.name, part.circuit, circuits) * weight(part)) / (total.get(key(part)) ?? 1),
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
