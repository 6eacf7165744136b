import { circuitIds, isSupply, type CircuitId } from '../catalogue/index.ts';
import { decibansOf, sumBy, type PerCircuit } from '../inference/index.ts';
import { shortsOf } from '../observation/index.ts';
import type { Reason, WeighedEvidence } from '../reasons/index.ts';
import type { Belief } from './belief.ts';

/** Weights under this are not worth a sentence. */
const minDecibans = 0.05;

/** An element of the profile, or a place that somebody named, with its own probability. */
interface Target {
  id: string;
  name: string;
  p: number;
}

export interface CircuitProbability {
  id: CircuitId;
  p: number;
  /** The same before it was corrected by the shop's own calls; left out where it was not. */
  uncorrected?: number;
  /** The element or the named place inside the circuit; null where there is none. */
  target: string | null;
  /** The same by probability, at most five. */
  targets: Target[];
  /** Of a supply: how likely something is shorted on it, where it is the cause. Left out for others, and by older engines. */
  shorted?: number;
  evidence: WeighedEvidence[];
}

/**
 * Probability of every circuit, in the order of `circuitIds`. Sums to 1.
 *
 * @returns 0 to 1 each, as long as `circuitIds`
 */
export function byCircuit({ posterior, history }: Pick<Belief, 'posterior' | 'history'>): PerCircuit {
  return sumBy(posterior, history.space.circuitOf, circuitIds.length);
}

/** Circuits by probability, each with its reasons. The reasons of a circuit add up to its posterior odds over its prior ones. */
export function explainCircuits(belief: Belief): CircuitProbability[] {
  const { history, weighed } = belief;
  const p = byCircuit(belief);
  const weights = weighed.map((w) => decibansOf(w.before, w.increments, history.space.circuitOf, circuitIds.length));
  const groups = groupsOf(weighed);
  return circuitIds
    .map((id, k) => {
      const targets = targetsOf(belief, k);
      return {
        id,
        p: p[k],
        ...(belief.uncorrected[k] !== p[k] && { uncorrected: belief.uncorrected[k] }),
        target: targets[0]?.name ?? null,
        targets,
        ...(isSupply(id) && { shorted: shortedShare(belief, k, p[k]) }),
        evidence: groups
          .map(({ reason, members }) => ({
            reason,
            times: members.length,
            for: members.reduce((sum, j) => sum + weights[j][k], 0),
          }))
          .filter((e) => Math.abs(e.for) >= minDecibans)
          // What is true of every case of the shop comes after what is true of this one.
          .sort((a, b) => Number(isOfShop(a)) - Number(isOfShop(b)) || Math.abs(b.for) - Math.abs(a.for)),
      };
    })
    .sort((a, b) => b.p - a.p);
}

const isOfShop = ({ reason }: { reason: Reason }): boolean => reason.id === 'correction';

/** What was weighed, with everything that says the same of one fact as one reason: the members are places in the list. */
function groupsOf(weighed: Belief['weighed']): { reason: Reason; members: number[] }[] {
  const groups = new Map<string, { reason: Reason; members: number[] }>();
  weighed.forEach(({ alike, reason }, j) => {
    const key = alike ?? `alone ${j}`;
    const group = groups.get(key) ?? { reason, members: [] };
    group.members.push(j);
    groups.set(key, group);
  });
  return [...groups.values()];
}

/** Of a circuit's probability, the share with a short; a short that was measured there and still stands is one. */
function shortedShare({ history, posterior }: Belief, circuit: number, p: number): number {
  const id = circuitIds[circuit];
  if (shortsOf(history).some((s) => !s.isGone && s.circuit === id)) return 1;
  const short = history.space.hypotheses.reduce(
    (sum, h, k) => (h.index === circuit && h.fault?.kind === 'short' ? sum + posterior[k] : sum),
    0,
  );
  return p > 0 ? Math.min(1, short / p) : 0;
}

const maxTargets = 5;

/** Elements of a circuit by probability; kinds and severities of one element summed. */
function targetsOf({ history, posterior }: Belief, circuit: number): Target[] {
  const sums = new Map<string, Target>();
  history.space.hypotheses.forEach((h, k) => {
    if (h.index !== circuit || h.target === null) return;
    const id = h.fault?.at ?? h.place ?? h.target;
    const sum = sums.get(id) ?? { id, name: h.target, p: 0 };
    sum.p += posterior[k];
    sums.set(id, sum);
  });
  return [...sums.values()].sort((a, b) => b.p - a.p).slice(0, maxTargets);
}
