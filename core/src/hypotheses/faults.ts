import { circuitIds, type CircuitId, type FaultKind } from '../catalogue/index.ts';
import { elementIds, healthy, kindsAt, targetOf, type Fault, type Profile } from '../twin/index.ts';
import settings from './hypotheses.json';
import { indexOf, type Hypothesis } from './space.ts';

type KindTable = Partial<Record<FaultKind, number>>;

/**
 * All hypotheses that a profile gives: every element with every fault that it can have, over a grid of severities which
 * is later summed over. Every circuit is there at least once.
 */
export function hypothesesOf(profile: Profile | null): Hypothesis[] {
  const byCircuit = new Map<CircuitId, { fault: Fault; target: string; weight: number }[]>();
  if (profile) {
    for (const id of elementIds(profile)) addElement(profile, id, byCircuit);
  }
  return circuitIds.flatMap((circuit): Hypothesis[] => {
    const index = indexOf.get(circuit) ?? 0;
    if (profile && circuit === 'none')
      return [{ circuit, index, net: index, fault: healthy, target: null, share: 1, place: null }];
    const list = byCircuit.get(circuit) ?? [];
    if (list.length === 0) return [{ circuit, index, net: index, fault: null, target: null, share: 1, place: null }];
    const total = list.reduce((sum, x) => sum + x.weight, 0);
    return list.map(({ fault, target, weight }) => ({
      circuit,
      index,
      net: index,
      fault,
      target,
      share: weight / total,
      place: null,
    }));
  });
}

/** Circuits that a profile has no element of: nothing of them can be started virtually. */
export function circuitsWithoutElement(profile: Profile): CircuitId[] {
  return hypothesesOf(profile)
    .filter((h) => h.fault === null && h.circuit !== 'unmodelled')
    .map((h) => h.circuit);
}

function addElement(
  profile: Profile,
  id: string,
  byCircuit: Map<CircuitId, { fault: Fault; target: string; weight: number }[]>,
): void {
  const target = targetOf(profile, id);
  if (!target || !indexOf.has(target.circuit)) return;
  const circuit = target.circuit;
  const part = target.element === 'part' ? profile.parts[target.index] : null;
  const kinds = settings.kinds[part?.role === 'joint' ? 'joint' : target.element] as KindTable;
  const list = byCircuit.get(circuit) ?? [];
  for (const kind of kindsAt(profile, id)) {
    const weight = kinds[kind] ?? 0;
    if (weight === 0 || !worthIt(profile, id, kind)) continue;
    const faults = severities(profile, id, kind);
    for (const fault of faults) list.push({ fault, target: target.name, weight: weight / faults.length });
  }
  byCircuit.set(circuit, list);
}

/** A load that belongs to the same circuit as its rail adds nothing to a short on that rail. */
function worthIt(profile: Profile, id: string, kind: FaultKind): boolean {
  const load = profile.loads.find((l) => l.id === id);
  if (load) return profile.rails.find((r) => r.id === load.rail)?.circuit !== load.circuit && load.peripheral === null;
  const converter = profile.converters.find((c) => c.id === id);
  if (converter && kind === 'short') return converter.circuit === 'core.supply' || converter.kind === 'charger';
  return true;
}

function severities(profile: Profile, at: string, kind: FaultKind): Fault[] {
  const fault = (value: number | null, side: Fault['side'] = null): Fault => ({ kind, at, value, side });
  const target = targetOf(profile, at);
  if (kind === 'short') {
    const { volts, amps } = shortGrid(profile, at);
    return amps.map((a) => fault(Math.max(settings.minShortOhm, volts / a)));
  }
  if (kind === 'weak') return settings.weakShare.map((x) => fault(x));
  if (kind === 'cycling') return settings.cyclingS.map((x) => fault(x));
  if (kind === 'resistive') return settings.resistiveOhm.map((x) => fault(x));
  if (kind === 'drained') return [fault(settings.drainedV * (profile.battery?.nominalV ?? settings.cellV))];
  if (kind === 'open' && target?.element === 'port')
    return [fault(null), fault(null, 'straight'), fault(null, 'flipped')];
  return [fault(null)];
}

/** Shorts are spread by the current that they would draw at the rail's own voltage. */
function shortGrid(profile: Profile, at: string): { volts: number; amps: number[] } {
  const railOf = (id: string) => profile.rails.find((r) => r.id === id);
  const load = profile.loads.find((l) => l.id === at);
  // A shorted load reads as its rail does: the same steps, or the steps would tell the two apart.
  const rail = railOf(load?.rail ?? at);
  if (rail) {
    const standsUnasked = rail.state === 'always' || rail.state === 'G3';
    return { volts: rail.nominalV, amps: standsUnasked ? settings.shortAmps.unasked : settings.shortAmps.asked };
  }
  const peripheral = profile.peripherals.find((p) => p.id === at);
  if (peripheral)
    return { volts: railOf(peripheral.rail)?.nominalV ?? settings.peripheralV, amps: settings.shortAmps.peripheral };
  const converter = profile.converters.find((c) => c.id === at);
  return { volts: railOf(converter?.from ?? '')?.nominalV ?? settings.converterV, amps: settings.shortAmps.converter };
}
