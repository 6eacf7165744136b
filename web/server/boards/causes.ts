import { circuitNames, elementsNamed, type CircuitId, type Profile } from '@umbral/core';
import type { Queries } from '../platform/db.ts';

/** A place at which jobs of a model ended. */
export interface Cause {
  /** The part or rail, as it was closed. */
  target: string;
  circuit: CircuitId;
  times: number;
}

/** Where earlier causes of a model were, those that came most often first; practice and what was not repaired is left out. */
export async function causesOf(q: Queries, model: string): Promise<Cause[]> {
  const rows = await q('jobs')
    .whereRaw('coalesce(profile, lower(btrim(model))) = ?', [model])
    .where({ is_practice: false })
    .whereIn('outcome_grade', ['measured', 'cleared'])
    .whereNotNull('outcome_circuit')
    .whereNull('deleted_at')
    .groupByRaw('lower(btrim(outcome_target)), outcome_circuit')
    .select<{ target: string; circuit: CircuitId; times: string }[]>(
      q.raw('max(outcome_target) AS target, outcome_circuit AS circuit, count(*) AS times'),
    );
  return rows.map((r) => ({ ...r, times: Number(r.times) })).sort((a, b) => b.times - a.times);
}

/**
 * The nets that a part or rail stands on: a rail its own, a converter what it makes, anything else the rail that it hangs on.
 *
 * @param named id or name; of a model without a profile it is a net itself
 */
export function netsOf(profile: Profile | null, named: string): string[] {
  if (!profile) return named.trim() === '' ? [] : [named.trim()];
  const found = elementsNamed(profile, named).flatMap(({ id }) => {
    const converter = profile.converters.find((c) => c.id === id);
    if (converter) return converter.to;
    const load = profile.loads.find((l) => l.id === id);
    if (load) return [load.rail];
    const port = profile.ports.find((p) => p.id === id);
    if (port) return [port.rail];
    if (profile.rails.some((r) => r.id === id)) return [id];
    // What is driven by a part falls with it.
    return profile.converters.filter((c) => c.drivenBy === id).flatMap((c) => c.to);
  });
  if (found.length > 0) return [...new Set(found)];
  // "capacitor on the main system rail" is at that rail.
  const words = named.toLowerCase();
  return profile.rails.filter((r) => words.includes(r.name.toLowerCase())).map((r) => r.id);
}

/** A cause in a few words: "here twice: capacitor at the run rail". */
export function sayCause({ target, circuit, times }: Cause): string {
  const often = times === 1 ? 'once' : times === 2 ? 'twice' : `${times} times`;
  return `here ${often}: ${target || circuitNames[circuit]}`;
}
