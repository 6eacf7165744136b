import type { CircuitId } from '../catalogue/index.ts';
import { placeName, type Case } from '../case/index.ts';
import { circuitOfEnd, circuitOfPart } from './vocabulary.ts';

/**
 * A case with the circuits of its places filled in: whatever was entered at a place belongs to the circuit that the place was
 * given, at whatever time and by whatever entry. So the order in which a place is named cannot matter. Where nobody gave one, the
 * words of the part or the net do that name a circuit by themselves.
 *
 * @param value as it was entered; an entry with a circuit of its own keeps it, unless the place was renamed in `places`
 */
export function withNames(value: Case): Case {
  const renamed = new Map<string, CircuitId>();
  for (const { where, circuit } of value.places) if (circuit !== null) renamed.set(placeName(where), circuit);
  const named = new Map<string, CircuitId>();
  const learn = (where: string, circuit: CircuitId | null): void => {
    if (circuit !== null && placeName(where) !== '') named.set(placeName(where), circuit);
  };
  for (const r of value.readings) learn(r.where, r.circuit);
  for (const i of value.injections) {
    learn(i.rail, i.circuit);
    if (i.hot !== null) learn(i.hot, i.hotCircuit);
  }
  for (const c of value.checks) learn(c.where, c.circuit);
  for (const a of value.actions) if (a.unit === null) learn(a.target, a.circuit);
  // What is on one net is of one circuit.
  const netOf = new Map(
    value.places.flatMap((p) => (p.net === undefined ? [] : [[placeName(p.where), p.net] as const])),
  );
  const ofNet = new Map<number, CircuitId>();
  for (const [name, net] of netOf) {
    const circuit = renamed.get(name) ?? named.get(name);
    if (circuit !== undefined) ofNet.set(net, circuit);
  }
  const circuitOf = (where: string, own: CircuitId | null): CircuitId | null => {
    const name = placeName(where);
    return renamed.get(name) ?? own ?? named.get(name) ?? ofNet.get(netOf.get(name) ?? NaN) ?? null;
  };
  // A model with a profile of its own has elements that bear these words, and its own mind about their circuits.
  const hasProfile = value.device.profile !== null;
  const circuitOfThing = (part: string, own: CircuitId | null): CircuitId | null =>
    circuitOf(part, own) ?? (hasProfile ? null : (circuitOfEnd(part) ?? circuitOfPart(part)));
  return {
    ...value,
    readings: value.readings.map((r) => ({ ...r, circuit: circuitOfThing(r.where, r.circuit) })),
    injections: value.injections.map((i) => ({
      ...i,
      circuit: circuitOfThing(i.rail, i.circuit),
      hotCircuit: i.hot === null ? i.hotCircuit : circuitOfThing(i.hot, i.hotCircuit),
    })),
    checks: value.checks.map((c) => (c.where === '' ? c : { ...c, circuit: circuitOfThing(c.where, c.circuit) })),
    actions: value.actions.map((a) => (a.unit === null ? { ...a, circuit: circuitOfThing(a.target, a.circuit) } : a)),
  };
}
