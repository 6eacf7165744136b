import { circuitNames, riskOf, depths } from '../catalogue/index.ts';
import { sumBy } from '../inference/index.ts';
import { namesOfHot, type Candidate, type History } from '../observation/index.ts';
import type { ProtocolDefinition } from '../proof/index.ts';
import policy from './policy.json';
import type { RankedTest } from './ranked.ts';
import type { Grouping, Standing } from './standing.ts';
import type { StopAdvice } from './stop.ts';
import type { Prediction, Suggestion } from './suggestion.ts';

/** A ranked test as it is said. */
export function toSuggestion(standing: Standing, grouping: Grouping, ranked: RankedTest): Suggestion {
  const { candidate } = ranked;
  const { kind, check, action, where, mode, circuit, depth, name } = candidate;
  const predicts = predictionsOf(standing, grouping, ranked);
  const hot = namesOfHot(standing.history.space, candidate.question);
  return {
    kind,
    check,
    action: action && { kind: action.kind, circuit: action.circuit, target: action.target },
    where,
    mode,
    protocol: null,
    circuit,
    at: [...(candidate.at ?? [])],
    phase: candidate.phase ?? null,
    bits: Math.round(1000 * ranked.bits) / 1000,
    minutes: Math.round(10 * ranked.minutes) / 10,
    depth,
    risk: check ? riskOf(check, depth) : depths[depth].risk,
    name,
    why: `${whyOf(candidate, predicts)}. ${capital(depths[depth].name)}.`,
    predicts,
    ...(Object.keys(hot).length > 0 ? { hot } : {}),
  };
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

function whyOf(candidate: Candidate, predicts: readonly Prediction[]): string {
  if (candidate.kind === 'injection') return 'A short was measured here. The part that gets warm is the fault';
  if (candidate.kind === 'action')
    return 'This is a test, and the fix if it is the cause. Record a run before and after';
  const [first] = predicts;
  if (!first) return 'Narrows the suspects';
  const other = predicts.find((p, k) => k > 0 && p.outcome !== first.outcome);
  const name = (p: Prediction): string => p.element?.name ?? circuitNames[p.circuit];
  if (other) return `Distinguishes ${name(first)} from ${name(other)}`;
  return `Confirms or weakens ${name(first)}`;
}

/**
 * What the leading suspects expect. Where they all expect the same, the last of them gives way to the likeliest suspect that
 * expects something else, since that is what the test is made for.
 */
function predictionsOf({ posterior }: Standing, { of, groups }: Grouping, { outcomes }: RankedTest): Prediction[] {
  const p = sumBy(posterior, of, groups.length);
  const predict = (g: number): Prediction => {
    const shares = Object.entries(outcomes)
      .map(([outcome, list]) => ({
        outcome,
        p: list.reduce((sum, x, h) => sum + (of[h] === g ? x * posterior[h] : 0), 0) / Math.max(p[g], 1e-12),
      }))
      .sort((x, y) => y.p - x.p)
      .map((share) => ({ ...share, p: Math.round(1000 * share.p) / 1000 }));
    const { id, name, circuit } = groups[g];
    return {
      circuit,
      element: id === circuit ? null : { id, name },
      outcome: shares[0].outcome,
      likely: shares.slice(0, 2),
    };
  };
  const suspects = [...p.keys()]
    .filter((g) => groups[g].circuit !== 'unmodelled' && p[g] > 0)
    .sort((x, y) => p[y] - p[x]);
  const leaders = suspects.slice(0, policy.maxSuspects).map(predict);
  const [first] = leaders;
  if (!first || leaders.some((l) => differs(l, first))) return leaders;
  const others = suspects.slice(policy.maxSuspects).filter((g) => p[g] >= policy.predictsFrom);
  const other = others.map(predict).find((l) => differs(l, first));
  return other ? [...leaders.slice(0, policy.maxSuspects - 1), other] : leaders;
}

/** Whether two suspects expect another outcome, or the same one with clearly another probability. */
function differs(a: Prediction, b: Prediction): boolean {
  return a.outcome !== b.outcome || Math.abs(a.likely[0].p - b.likely[0].p) >= policy.predictsApart;
}

/** What is proposed without being a test: nothing is predicted of it and nothing is opened for it. */
const noTest: Omit<Suggestion, 'kind' | 'name' | 'why'> = {
  check: null,
  action: null,
  where: null,
  mode: null,
  protocol: null,
  circuit: null,
  at: [],
  phase: null,
  bits: 0,
  minutes: 0,
  depth: 0,
  risk: depths[0].risk,
  predicts: [],
};

/** A proof that is still to be given, as a suggestion. */
export function proofSuggestion({ id: protocol, name, minutes, says, proves }: ProtocolDefinition): Suggestion {
  return { ...noTest, kind: 'verify', protocol, minutes, name, why: `${says}. Shows ${proves}.` };
}

/** To switch it on after a change, as a suggestion: on the supply, or where it was powered before. */
export function trySuggestion(history: History): Suggestion {
  const { runs } = history.value;
  const onSupply = runs.length === 0 || runs.some((r) => r.feed !== 'usb-c');
  return {
    ...noTest,
    kind: 'verify',
    protocol: onSupply ? 'start-on-limited-supply' : 'same-setup-as-first',
    minutes: policy.tryMinutes,
    name: onSupply ? 'First start on a limited supply' : 'Try it in the setup of the first run',
    why: 'It has not been seen to work since the last change. Set the current limit first, then record a run.',
  };
}

/** Advice to stop, as a suggestion. */
export function stopSuggestion({ why }: StopAdvice): Suggestion {
  return { ...noTest, kind: 'stop', name: 'Stop here', why };
}
