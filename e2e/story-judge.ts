import type { Assessment } from '@umbral/core';
import type { Step, Wanted } from './story.ts';

/**
 * What a step expects and is not so, in sentences.
 *
 * @param a the verdict after the step
 * @param before the suspects of the verdict before it
 */
export function missedBy(a: Assessment, before: Assessment['circuits'], { expect: wanted }: Step): string[] {
  const out: string[] = [];
  const need = (holds: boolean, says: string): void => void (holds || out.push(says));
  const p = (id: string, of = a.circuits): number => of.find((c) => c.id === id)?.p ?? 0;
  const head = a.circuits
    .slice(0, 3)
    .map((c) => `${c.id} ${c.p.toFixed(2)}`)
    .join(', ');
  const { cause = {}, pattern = {}, now = {}, next = {} } = wanted;
  if (cause.first) need(cause.first.includes(a.circuits[0]?.id), `first ${cause.first.join(' or ')}: ${head}`);
  if (cause.top3)
    need(
      a.circuits.slice(0, 3).some((c) => cause.top3?.includes(c.id)),
      `among three ${cause.top3.join(' or ')}: ${head}`,
    );
  for (const [id, least] of Object.entries(cause.atLeast ?? {}))
    need(p(id) >= least, `${id} at least ${least}: ${head}`);
  for (const [id, most] of Object.entries(cause.atMost ?? {})) need(p(id) <= most, `${id} at most ${most}: ${head}`);
  for (const id of cause.rises ?? []) need(p(id) > p(id, before), `${id} rises`);
  for (const id of cause.falls ?? []) need(p(id) < p(id, before), `${id} falls`);
  for (const [run, ids] of Object.entries(pattern)) {
    const [top] = [...(a.runs.find((r) => r.id === run)?.pattern ?? [])].sort((x, y) => y.p - x.p);
    need(ids.includes(top?.id), `pattern of ${run}: ${top?.id}`);
  }
  for (const [id, least] of Object.entries(now))
    need((a.now.find((n) => n.id === id)?.p ?? 0) >= least, `now ${id} at least ${least}`);
  const is = (item: Assessment['next'][number], like: Wanted): boolean =>
    Object.entries(like).every(([k, v]) =>
      k === 'text'
        ? JSON.stringify(item).toLowerCase().includes(String(v).toLowerCase())
        : k === 'actionKind'
          ? item.action?.kind === v
          : k === 'circuit'
            ? (item.action?.circuit ?? item.circuit) === v
            : (item as unknown as Wanted)[k] === v,
    );
  if (next.oneOf)
    need(
      a.next.slice(0, next.within ?? 1).some((x) => next.oneOf?.some((y) => is(x, y))),
      `next ${JSON.stringify(next.oneOf)}: ${a.next.map((x) => x.name).join(', ')}`,
    );
  for (const { within = Infinity, ...never } of next.never ?? [])
    need(!a.next.slice(0, within).some((x) => is(x, never)), `never next ${JSON.stringify(never)}`);
  for (const words of wanted.warns ?? [])
    need(
      a.warnings.some((w) => w.toLowerCase().includes(words.toLowerCase())),
      `a warning says ${words}`,
    );
  return out;
}
