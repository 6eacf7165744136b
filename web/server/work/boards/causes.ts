import { circuitNames, elementsNamed, type CircuitId, type Profile } from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import type { BoardPointRow } from '../../record/tables.ts';

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
    // A part hangs on its rail, and what it drives falls with it.
    const part = profile.parts.find((p) => p.id === id);
    const driven = profile.converters.filter((c) => c.drivenBy === id).flatMap((c) => c.to);
    return [...(part?.rail ? [part.rail] : []), ...driven];
  });
  if (found.length > 0) return [...new Set(found)];
  // "capacitor on the main system rail" is at that rail.
  const words = named.toLowerCase();
  return profile.rails.filter((r) => words.includes(r.name.toLowerCase())).map((r) => r.id);
}

/**
 * The point that was meant: the one of this name, else of its net the one on such a part, else any of its net.
 *
 * @param target as a job was closed: "capacitor on the main rail"
 */
export function pointMeant<P extends Pick<BoardPointRow, 'name' | 'net' | 'kind'>>(
  points: readonly P[],
  target: string,
  profile: Profile | null,
): P | null {
  const words = target.trim().toLowerCase();
  if (words === '') return null;
  const nets = new Set(netsOf(profile, words).map((n) => n.toLowerCase()));
  const there = points.filter((p) => nets.has(p.net.toLowerCase()));
  return (
    points.find((p) => p.name.toLowerCase() === words) ??
    there.find((p) => words.includes(p.kind.replace('-', ' '))) ??
    there.at(0) ??
    null
  );
}

/** A cause in a few words: "here twice: capacitor at the run rail". */
export function sayCause({ target, circuit, times }: Cause): string {
  const often = times === 1 ? 'once' : times === 2 ? 'twice' : `${times} times`;
  return `here ${often}: ${target || circuitNames[circuit]}`;
}
