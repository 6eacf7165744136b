import {
  faultKinds,
  faultKindsAt,
  faultTypes,
  type CircuitId,
  type ElementKind,
  type FaultKind,
} from '../catalogue/index.ts';
import type { Profile } from './profile.ts';

const valueDigits = 4;

/** One change to a device. `at` is the id of an element; `value` is in ohms, a share, seconds or volts by kind. */
export interface Fault {
  kind: FaultKind;
  at: string;
  value: number | null;
  /** Contact faults: only with the plug this way up; null for both. */
  side: 'straight' | 'flipped' | null;
}

/** What may be said of a fault: the element, its circuit, what the value is. */
interface FaultTarget {
  element: ElementKind;
  index: number;
  circuit: CircuitId;
  name: string;
}

/** The battery has no id of its own in a profile. */
export const batteryId = 'battery';

/** Finds the element that a fault is at; null where the profile has none of that id. */
export function targetOf(profile: Profile, at: string): FaultTarget | null {
  const look = (
    element: FaultTarget['element'],
    list: { id: string; circuit?: CircuitId; name?: string }[],
    circuit: CircuitId = 'unmodelled',
  ): FaultTarget | null => {
    const index = list.findIndex((item) => item.id === at);
    if (index < 0) return null;
    const item = list[index];
    return { element, index, circuit: item.circuit ?? circuit, name: item.name ?? item.id };
  };
  if (at === batteryId)
    return profile.battery ? { element: 'battery', index: 0, circuit: 'battery.pack', name: 'battery' } : null;
  return (
    look('rail', profile.rails) ??
    look('converter', profile.converters) ??
    look('load', profile.loads) ??
    look('part', profile.parts) ??
    look('port', profile.ports, 'input.port') ??
    look('peripheral', profile.peripherals) ??
    (profile.dcIn ? look('dc-in', [profile.dcIn], 'input.port') : null)
  );
}

/** Everything of a profile that has an id of its own and can be at fault. */
function elementsIn(profile: Profile): { id: string; name?: string }[] {
  return [
    ...profile.rails,
    ...profile.converters,
    ...profile.loads,
    ...profile.parts,
    ...profile.peripherals,
    ...profile.ports,
    ...(profile.dcIn ? [profile.dcIn] : []),
    ...(profile.battery ? [{ id: batteryId }] : []),
  ];
}

/** Ids of everything of a profile that can be at fault: rails, converters, loads, parts, peripherals, ports, inputs. */
export function elementIds(profile: Profile): string[] {
  return elementsIn(profile).map((x) => x.id);
}

/** What somebody points at, with its id. */
type NamedElement = FaultTarget & { id: string };

/**
 * Everything that a person may mean by an id or a name, in either case of letters: a chip and what it draws bear one name,
 * as a rail and what hangs on it may. A port is also called by its number.
 */
export function elementsNamed(profile: Profile, name: string): NamedElement[] {
  const wanted = name.trim().toLowerCase();
  if (wanted === '') return [];
  const all = elementsIn(profile);
  const port = /^port (\d)$/.exec(wanted);
  const called = (x: { id: string; name?: string }): boolean =>
    x.id.toLowerCase() === wanted ||
    x.name?.toLowerCase() === wanted ||
    (port !== null && x.id === profile.ports[Number(port[1]) - 1]?.id) ||
    (x.id === batteryId && wanted === 'battery pack');
  return all.filter(called).flatMap(({ id }) => {
    const target = targetOf(profile, id);
    return target ? [{ ...target, id }] : [];
  });
}

/**
 * Finds the element that a person names, as {@link elementsNamed} does.
 *
 * @param prefers which is meant where several are called so, the likeliest kind first; then the one with this id
 * @returns null where the profile has none, or where several are called so of which none is meant
 */
export function elementNamed(
  profile: Profile,
  name: string,
  prefers: readonly ElementKind[] = [],
): NamedElement | null {
  const found = elementsNamed(profile, name);
  if (found.length === 1) return found[0];
  for (const kind of prefers) {
    const of = found.filter((x) => x.element === kind);
    if (of.length === 1) return of[0];
  }
  return found.find((x) => x.id.toLowerCase() === name.trim().toLowerCase()) ?? null;
}

/** Of what bears one name, what a probe is put on. */
export const atProbe: readonly ElementKind[] = ['rail'];
/** Of what bears one name, what warms when it is shorted. */
export const atHeat: readonly ElementKind[] = ['load', 'converter', 'rail'];
/** Of what bears one name, what is seen on the board. */
export const atSight: readonly ElementKind[] = ['part', 'converter', 'load'];

export const healthy: Fault = { kind: 'none', at: '', value: null, side: null };

/**
 * Reads `kind:element`, `kind:element=value` or `kind:element/flipped`, as the command line takes them.
 *
 * @param spec such as `short:main`, `short:main=0.3` (ohm) or `open:port-1/flipped`
 * @throws {RangeError} with what was expected
 */
export function parseFault(profile: Profile, spec: string): Fault {
  const text = spec.trim();
  if (text === 'none') return healthy;
  const match = /^([a-z]+):([^=/]+)(?:\/(straight|flipped))?(?:=([^=]+))?$/.exec(text);
  if (!match) throw new RangeError(`"${spec}": expected "none" or "kind:element", with "=value" where it has one`);
  const [, kindText, at, side, valueText] = match;
  if (!Object.hasOwn(faultTypes, kindText) || kindText === 'none')
    throw new RangeError(`"${kindText}" is not a kind of fault; expected ${faultKinds.join(', ')}`);
  const kind = kindText as FaultKind;
  const target = targetOf(profile, at);
  if (!target) throw new RangeError(`"${at}" is not an element of the profile ${profile.id}`);
  const kinds = faultKindsAt(target.element);
  if (!kinds.includes(kind))
    throw new RangeError(`a ${target.element} cannot be "${kind}"; it can be ${kinds.join(', ')}`);
  const rule = faultTypes[kind].value;
  if (rule === undefined && valueText !== undefined) throw new RangeError(`"${kind}" takes no value`);
  let value: number | null = null;
  if (rule !== undefined) {
    value = valueText === undefined ? rule.usual : Number(valueText.replace(/\s*(ohm|s|V)$/, ''));
    if (!(value >= rule.min && value <= rule.max))
      throw new RangeError(
        `"${valueText ?? ''}": expected a number from ${rule.min} to ${rule.max} ${rule.unit}`.trim(),
      );
  }
  if (side !== undefined && target.element !== 'port')
    throw new RangeError('only a port can fail in one plug orientation');
  return { kind, at, value, side: (side as Fault['side'] | undefined) ?? null };
}

/** The text that `parseFault` reads. */
export function formatFault(fault: Fault): string {
  if (fault.kind === 'none') return 'none';
  const side = fault.side === null ? '' : `/${fault.side}`;
  return `${fault.kind}:${fault.at}${side}${fault.value === null ? '' : `=${Number(fault.value.toPrecision(valueDigits))}`}`;
}

/** The fault in words. */
export function sayFault(profile: Profile, fault: Fault): string {
  if (fault.kind === 'none') return 'healthy';
  const target = targetOf(profile, fault.at);
  const unit = faultTypes[fault.kind].value?.unit ?? '';
  const value = fault.value === null || fault.kind === 'weak' ? '' : `, ${Number(fault.value.toPrecision(2))} ${unit}`;
  const side = fault.side === null ? '' : fault.side === 'flipped' ? ', plug flipped' : ', plug not flipped';
  return `${target?.name ?? fault.at}: ${faultTypes[fault.kind].name}${value}${side}`;
}

/** Kinds of fault that the element with this id can have. */
export function kindsAt(profile: Profile, at: string): FaultKind[] {
  const target = targetOf(profile, at);
  return target ? faultKindsAt(target.element) : [];
}
