import type { Profile } from '../twin/index.ts';
import policy from './data/injection.json';
import type { InjectionOf } from './injection.ts';

/** What the injection planner takes from the profile. */
export type RailFacts = Omit<InjectionOf, 'ohm' | 'leadsOhm' | 'school'>;

/**
 * What is known of a rail before a voltage is put on it. A processor hangs on it where it is a core rail, or where one lives
 * from it at a core's voltage: its inputs and outputs stand more. The supply's own bounds are those of a usual bench supply.
 *
 * @returns null where the profile has no rail of that id
 */
export function railFacts(profile: Profile, rail: string): RailFacts | null {
  const spec = profile.rails.find((r) => r.id === rail);
  if (!spec) return null;
  const isCore = spec.circuit === 'core.supply' || spec.circuit === 'core.soc';
  const hasProcessor =
    profile.loads.some((l) => l.rail === rail && l.circuit === 'core.soc') ||
    profile.parts.some((p) => p.rail === rail && p.role === 'processor');
  return {
    nominalV: spec.nominalV,
    feedsProcessor: isCore || (hasProcessor && spec.nominalV <= policy.coreRailUpToV),
    isMain: spec.circuit === 'rail.main',
    capacitors: spec.capacitors,
    ...policy.supply,
  };
}
