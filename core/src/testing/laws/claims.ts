import type { Assessment } from '../../diagnosis/index.ts';
import type { PatternId } from '../../catalogue/index.ts';

/** What a law says of some answers: whether it holds, and what was seen. */
export interface Claim {
  says: string;
  holds: boolean;
  seen: string;
}

type Next = Assessment['next'][number];

/** The probability of some circuits together. */
export const p = (a: Assessment, ...ids: readonly string[]): number =>
  a.circuits.reduce((sum, c) => sum + (ids.includes(c.id) ? c.p : 0), 0);
export const now = (a: Assessment, id: string): number => a.now.find((n) => n.id === id)?.p ?? 0;
const ordered = (a: Assessment): Assessment['circuits'] => [...a.circuits].sort((x, y) => y.p - x.p);
export const leader = (a: Assessment): string => ordered(a)[0].id;
export const leaders = (a: Assessment): string =>
  ordered(a)
    .slice(0, 4)
    .map((c) => `${c.id} ${c.p.toFixed(2)}`)
    .join(', ');
export const patternOf = (a: Assessment, k = 0): { id: PatternId; p: number } =>
  [...a.runs[k].pattern].sort((x, y) => y.p - x.p)[0];
export const proposals = (a: Assessment): string =>
  a.next
    .slice(0, 3)
    .map((n) => n.name)
    .join(' / ');

/** Whether a proposal means to switch it on and look: proofs, starts, and what is seen of one. */
export const isStart = (n: Next | undefined): boolean =>
  n !== undefined &&
  (n.kind === 'verify' ||
    ['press-response', 'screen', 'fan', 'charges', 'charge-indicator', 'host-detects'].includes(n.check ?? ''));
/** Whether a proposal closes in on a short. */
export const isShortWork = (n: Next): boolean =>
  n.kind === 'injection' ||
  ['heat-view', 'inject'].includes(n.check ?? '') ||
  ['remove', 'isolate'].includes(n.action?.kind ?? '');
export const among = (a: Assessment, which: (n: Next) => boolean): boolean => a.next.slice(0, 3).some(which);

export const claim = (says: string, holds: boolean, seen: string): Claim => ({ says, holds, seen });
export const atLeast = (says: string, x: number, min: number, seen = ''): Claim =>
  claim(`${says} at least ${min}`, x >= min, `${x.toFixed(3)} ${seen}`);
export const atMost = (says: string, x: number, max: number, seen = ''): Claim =>
  claim(`${says} at most ${max.toFixed(3)}`, x <= max, `${x.toFixed(3)} ${seen}`);

const odds = (x: number): number => x / Math.max(1e-9, 1 - x);

/** Odds after against odds before; what was hardly there must only stay small. */
export function falls(ids: readonly string[], before: Assessment, after: Assessment, to: number): Claim {
  const [x, y] = [p(before, ...ids), p(after, ...ids)];
  const seen = `${x.toFixed(3)} to ${y.toFixed(3)} (${leaders(after)})`;
  const name = ids.length > 3 ? `${ids.length} circuits` : ids.join(', ');
  return claim(`${name} to ${to} of the odds`, x < 0.005 ? y <= 0.02 : odds(y) <= to * odds(x) + 1e-9, seen);
}

/** A clear lead among what was not touched does not turn round. */
export function keepsOrder(before: Assessment, after: Assessment, touched: readonly string[]): Claim {
  const ids = before.circuits.map((c) => c.id).filter((id) => id !== 'unmodelled' && !touched.includes(id));
  const turned = ids
    .filter((id) => p(before, id) >= 0.05)
    .flatMap((a) =>
      ids
        .filter(
          (b) =>
            p(before, b) >= 0.05 &&
            p(before, a) >= 1.25 * p(before, b) &&
            p(after, b) > 1.1 * p(after, a) &&
            p(after, b) > 0.05,
        )
        .map(
          (b) =>
            `${a} ${p(before, a).toFixed(2)} before ${b}, then ${p(after, a).toFixed(2)} and ${p(after, b).toFixed(2)}`,
        ),
    );
  return claim('the rest keeps its order', turned.length === 0, turned[0] ?? '');
}

/** Every probability of two answers within a distance. */
export function close(a: Assessment, b: Assessment, within: number): Claim {
  const ids = new Set([...a.circuits, ...b.circuits].map((c) => c.id));
  const moved = [
    ...[...ids].map((id) => ({ id: id as string, x: p(a, id), y: p(b, id) })),
    ...a.now.map((n) => ({ id: n.id as string, x: n.p, y: now(b, n.id) })),
  ];
  const worst = moved.sort((m, n) => Math.abs(n.x - n.y) - Math.abs(m.x - m.y))[0];
  const seen = `${worst.id} ${worst.x.toFixed(3)} and ${worst.y.toFixed(3)}`;
  return claim(`every probability within ${within}`, Math.abs(worst.x - worst.y) <= within, seen);
}

export const sameLeader = (a: Assessment, b: Assessment): Claim =>
  claim('the same leads', leader(a) === leader(b), `${leaders(a)}; ${leaders(b)}`);

/** What holds of every answer: proposals name what they act on, and the suspects are a probability. */
export function wellFormed(a: Assessment): Claim[] {
  const nameless = a.next.find(
    (n) =>
      (n.kind === 'action' && !n.action?.circuit && !n.action?.target) ||
      (n.kind === 'check' && !n.check) ||
      (n.kind === 'reading' && !(n.where && n.mode)) ||
      (n.kind === 'injection' && !n.where) ||
      (n.kind === 'verify' && !n.protocol) ||
      !n.why,
  );
  const sum = a.circuits.reduce((s, c) => s + c.p, 0);
  const isSorted = a.circuits.every((c, k) => k === 0 || c.p <= a.circuits[k - 1].p + 1e-9);
  return [
    claim('proposals say what they act on', nameless === undefined, nameless?.name ?? ''),
    claim('an open case has a proposal', a.next.length > 0, leaders(a)),
    claim('suspects sum to one, in order', Math.abs(sum - 1) < 0.03 && isSorted, sum.toFixed(3)),
  ];
}
