import { isDeepStrictEqual } from 'node:util';
import type { Profile } from '@umbral/core';

const lists = ['rails', 'converters', 'loads', 'parts', 'peripherals', 'stages', 'ports', 'references'] as const;
const singular: Record<(typeof lists)[number], string> = {
  rails: 'rail',
  converters: 'converter',
  loads: 'load',
  parts: 'part',
  peripherals: 'peripheral',
  stages: 'stage',
  ports: 'port',
  references: 'reference reading',
};
const maxSaid = 30;

/** What one version of a profile changes against another, a line for each thing. */
export function differences(before: Profile, after: Profile): string[] {
  const out: string[] = [];
  for (const key of Object.keys(after) as (keyof Profile)[]) {
    if ((lists as readonly string[]).includes(key)) continue;
    if (isSame(before[key], after[key])) continue;
    if (isPlain(before[key]) || isPlain(after[key])) out.push(`${key}: ${say(before[key])} → ${say(after[key])}`);
    else out.push(...fields(key, before[key], after[key]));
  }
  for (const list of lists) {
    const nameOf = (x: object): string => ('id' in x ? String(x.id) : 'where' in x ? String(x.where) : '');
    const [a, b] = [before[list], after[list]].map(
      (items) => new Map((items as readonly object[]).map((x) => [nameOf(x), x])),
    );
    for (const [id, element] of b) {
      const old = a.get(id);
      if (!old) out.push(`${singular[list]} ${id}: new`);
      else if (!isSame(old, element)) out.push(...fields(`${singular[list]} ${id}`, old, element));
    }
    for (const id of a.keys()) if (!b.has(id)) out.push(`${singular[list]} ${id}: removed`);
    const order = (m: Map<string, object>): string => [...m.keys()].filter((id) => a.has(id) && b.has(id)).join();
    if (order(a) !== order(b)) out.push(`${list}: order changed`);
  }
  return out.length <= maxSaid ? out : [...out.slice(0, maxSaid), `and ${out.length - maxSaid} more`];
}

function fields(name: string, before: unknown, after: unknown): string[] {
  const [a, b] = [before, after].map((x) => (x ?? {}) as Record<string, unknown>);
  return [...new Set([...Object.keys(a), ...Object.keys(b)])]
    .filter((key) => !isSame(a[key], b[key]))
    .map((key) => `${name}, ${key}: ${say(a[key])} → ${say(b[key])}`);
}

const isPlain = (x: unknown): boolean => typeof x !== 'object' || x === null;
const isSame = (a: unknown, b: unknown): boolean => isDeepStrictEqual(a, b);

function say(value: unknown): string {
  if (value === undefined) return 'nothing';
  const text = typeof value === 'string' ? value : JSON.stringify(value);
  return text.length > 60 ? `${text.slice(0, 57)}…` : text;
}
