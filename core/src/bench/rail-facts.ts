import type { CircuitId } from '../catalogue/index.ts';
import { samePlace } from '../hypotheses/index.ts';
import { nominalOf, type History } from '../observation/index.ts';
import { atProbe, elementNamed, type Profile } from '../twin/index.ts';
import type { InjectionOf } from './injection.ts';
import policy from './injection.json';

/** What the injection planner takes from what is known of a rail. */
export type RailFacts = Omit<InjectionOf, 'ohm' | 'leadsOhm' | 'school'>;

/**
 * What is known of a rail before a voltage is put on it. Its voltage is what was measured standing there, what was stated
 * for this unit or what its name says, and only then the profile's, unless the unit contradicts it; null where nobody knows.
 * A core regulator that hangs on it may have let its high-side transistor through: until its phases are isolated, what is put
 * on the rail can stand at the processor.
 *
 * @param where id of the profile, or the point in words
 */
export function injectionFacts(
  history: Pick<History, 'value' | 'space'>,
  where: string,
  circuit: CircuitId | null,
): RailFacts {
  const { space, value } = history;
  const own = space.closeness === 'own' ? ownRail(space.twin.board.profile, where) : null;
  const of = own ? own.circuit : circuit;
  const measured = value.readings.findLast(
    (r) =>
      r.mode === 'voltage' &&
      r.value !== null &&
      r.value > policy.standsFromV &&
      !r.swing &&
      r.circuit === of &&
      (samePlace(r.where, where) || r.where === own?.id),
  );
  const stated =
    of === 'rail.main'
      ? (value.device.expect.mainV ?? null)
      : nominalOf({ where, circuit: of, mode: 'voltage', reference: null }, {});
  const profileV = own?.nominalV ?? null;
  const contradicted =
    measured?.value != null && profileV !== null && measured.value < policy.contradictsBelow * profileV;
  const nominalV = stated ?? (contradicted || profileV === null ? (measured?.value ?? null) : profileV);
  const isCore = of === 'core.supply' || of === 'core.soc';
  const isMain = of === 'rail.main';
  return {
    nominalV,
    feedsProcessor: isCore || hasProcessor(space, own?.id ?? null, nominalV),
    coreBehind: !isCore && hasCoreBehind(space, own?.id ?? null, of) && !isIsolated(history),
    isMain,
    capacitors: own?.capacitors ?? null,
    ...policy.supply,
  };
}

function ownRail(profile: Profile, where: string): Profile['rails'][number] | null {
  const found = elementNamed(profile, where, atProbe);
  return found?.element === 'rail' ? profile.rails[found.index] : null;
}

function hasProcessor(space: History['space'], rail: string | null, nominalV: number | null): boolean {
  if (space.closeness !== 'own' || rail === null) return false;
  const { loads, parts } = space.twin.board.profile;
  const feeds =
    loads.some((l) => l.rail === rail && l.circuit === 'core.soc') ||
    parts.some((p) => p.rail === rail && p.role === 'processor');
  return feeds && nominalV !== null && nominalV <= policy.coreRailUpToV;
}

/** Whether a core regulator takes its input from the rail: known of an own profile, presumed of any main rail and what is before it. */
function hasCoreBehind(space: History['space'], rail: string | null, circuit: CircuitId | null): boolean {
  if (space.closeness === 'own' && rail !== null)
    return space.twin.board.profile.converters.some((c) => c.from === rail && c.circuit === 'core.supply');
  return circuit !== null && policy.coreBehind.includes(circuit);
}

/** The core's phases were cut off and not joined again. */
function isIsolated({ value }: Pick<History, 'value'>): boolean {
  const undone = new Set(value.actions.flatMap((a) => (a.undoes === null ? [] : [a.undoes])));
  return value.actions.some((a) => a.kind === 'isolate' && a.circuit === 'core.supply' && !undone.has(a.id));
}
