import { decibansOf, sumBy } from '../inference/index.ts';
import { elementsNamed, targetOf, type Profile } from '../twin/index.ts';
import policy from './policy.json';
import type { Grouping, Standing } from './standing.ts';

/** Which element it is by now, and how far that may be acted on. */
interface Isolation {
  /** Index of the leading group. */
  group: number;
  p: number;
  /** Sure enough by everything that is known. */
  isSure: boolean;
  /** Something that was measured, unplugged, fed or replaced at the element itself speaks for it. */
  isTouched: boolean;
  /** Both: a call from outside is no isolation, however sure it sounds. */
  isDecided: boolean;
}

/**
 * The leading group. Runs and checks from outside make a suspect; it is isolated only once something was found at it that
 * speaks for it against all others.
 */
export function isolationOf(standing: Standing, grouping: Grouping): Isolation {
  const { posterior } = standing;
  const p = sumBy(posterior, grouping.of, grouping.groups.length);
  const group = p.reduce((top, x, k) => (x > p[top] ? k : top), 0);
  const isSure = p[group] >= policy.elementDecidedFrom;
  // There is nowhere to touch a good device.
  const isTouched = grouping.groups[group].circuit === 'none' || isFoundAt(standing, grouping, group);
  return { group, p: p[group], isSure, isTouched, isDecided: isSure && isTouched };
}

const touching = ['reading', 'injection', 'heat', 'unplug', 'change'];

function isFoundAt(standing: Standing, grouping: Grouping, group: number): boolean {
  const { weighed } = standing;
  return weighed.some((w) => {
    if (!touching.includes(w.kind) || !touches(standing, grouping, group, w.source)) return false;
    return decibansOf(w.before, w.increments, grouping.of, grouping.groups.length)[group] >= policy.supportDecibans;
  });
}

/** Whether an observation was made at the element of a group, or at a rail of it. */
function touches({ history }: Standing, { groups }: Grouping, group: number, source: string): boolean {
  const { value, space } = history;
  const [kind, id, rest] = source.split(':');
  const names: string[] = [];
  let circuit: string | null = null;
  if (kind === 'reading') {
    const reading = value.readings[Number(id)];
    names.push(reading.where);
    circuit = reading.circuit;
  } else if (kind === 'injection') {
    const injection = value.injections.find((i) => i.id === id);
    names.push(injection?.rail ?? '', injection?.hot ?? '');
    circuit = injection?.hotCircuit ?? injection?.circuit ?? null;
  } else if (kind === 'check') {
    const check = value.checks[Number(id)];
    names.push(check.where, check.rail);
    circuit = check.circuit;
  } else if (kind === 'run') {
    const run = value.runs.find((r) => r.id === id);
    const action = value.actions.find((a) => a.id === run?.after);
    names.push(action?.target ?? '');
    circuit = action?.circuit ?? null;
  } else if (kind === 'unplug') {
    const run = value.runs.find((r) => r.id === id);
    const marker = run?.markers.find((m) => String(m.t) === rest);
    names.push(marker?.note ?? '');
    circuit = 'periph.board';
  }
  if (space.closeness !== 'own') return circuit === groups[group].circuit;
  const { profile } = space.twin.board;
  const places = placesOf(profile, groups[group].id);
  return names.some((name) => elementsNamed(profile, name).some((e) => places.has(e.id)));
}

/** An element, and the rails at which it can be measured. Empty for what is no element of the profile. */
export function placesOf(profile: Profile, id: string): Set<string> {
  const target = targetOf(profile, id);
  if (!target) return new Set();
  const { element, index } = target;
  if (element === 'converter') return new Set([id, profile.converters[index].from, ...profile.converters[index].to]);
  if (element === 'load') return new Set([id, profile.loads[index].rail]);
  if (element === 'part') return new Set([id, ...(profile.parts[index].rail ? [profile.parts[index].rail] : [])]);
  if (element === 'peripheral') return new Set([id, profile.peripherals[index].rail]);
  if (element === 'port') return new Set([id, profile.ports[index].rail]);
  if (element === 'dc-in' && profile.dcIn) return new Set([id, profile.dcIn.rail]);
  if (element === 'battery' && profile.battery) return new Set([id, profile.battery.rail]);
  return new Set([id]);
}
