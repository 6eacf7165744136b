import type { PerHypothesis } from '../inference/index.ts';
import { circuitNames, type CircuitId } from '../catalogue/index.ts';
import type { DeviceTwin } from './device-twin.ts';
import { targetOf } from '../twin/index.ts';

/** Something that can be at fault by itself: a rail, a converter, a part. What isolating a fault has to name. */
export interface Element {
  /** Id in the profile; the circuit's where the profile has no element of it. */
  id: string;
  name: string;
  circuit: CircuitId;
}

/** The elements of a twin, with the element of every hypothesis as an index. */
export interface Elements {
  list: Element[];
  of: PerHypothesis;
}

const kept = new WeakMap<DeviceTwin, Elements>();

/** Groups the hypotheses of a twin by the element that they accuse. */
export function elementsOf(twin: DeviceTwin): Elements {
  const known = kept.get(twin);
  if (known) return known;
  const places = new Map<string, number>();
  const list: Element[] = [];
  const of = twin.hypotheses.map((h) => {
    const id = h.fault === null || h.fault.kind === 'none' ? h.circuit : h.fault.at;
    let place = places.get(id);
    if (place === undefined) {
      place = list.push({ id, name: h.target ?? circuitNames[h.circuit], circuit: h.circuit }) - 1;
      places.set(id, place);
    }
    return place;
  });
  tellApart(twin, list);
  const made = { list, of };
  kept.set(twin, made);
  return made;
}

const kindWords: Record<string, string> = {
  part: 'chip',
  load: 'what it draws',
  peripheral: 'board',
  converter: 'regulator',
};

/** A chip and the load that it is share a name: what is said of one must not be taken for the other. */
function tellApart(twin: DeviceTwin, list: Element[]): void {
  for (const one of list) {
    const alike = list.filter((other) => other.name.toLowerCase() === one.name.toLowerCase());
    if (alike.length < 2) continue;
    for (const element of alike) {
      const kind = targetOf(twin.board.profile, element.id)?.element ?? '';
      element.name = `${element.name} (${kindWords[kind] ?? kind})`;
    }
  }
}
