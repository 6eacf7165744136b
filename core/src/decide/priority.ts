import { namedChecks, actionTypes, circuitIds, type CircuitId } from '../catalogue/index.ts';
import { sumBy } from '../inference/index.ts';
import { isSamePart } from '../hypotheses/index.ts';
import { damagedPlaces, type Candidate, type ChangeCandidate } from '../observation/index.ts';
import policy from './policy.json';
import type { Stage } from './stage.ts';
import type { Standing } from './standing.ts';

/**
 * What goes before everything that is ranked by information: higher first, 0 for what is ranked by information alone. Where the
 * work stands decides it: a part that is off, a place that warmed, a short that nobody fed yet, damage that was seen, liquid.
 *
 * @param stage where the work stands
 */
export function priorityOf(standing: Standing, stage: Stage): (candidate: Candidate) => number {
  const { history, posterior } = standing;
  const { value } = history;
  const { rank } = policy;
  const circuits = sumBy(posterior, history.space.circuitOf, circuitIds.length);
  const damaged = damagedPlaces(history);
  const p = (id: CircuitId | null): number => (id === null ? 0 : circuits[circuitIds.indexOf(id)]);
  const isDamaged = (id: CircuitId | null): boolean =>
    id !== null && p(id) >= policy.damageLeadsFrom && damaged.some((d) => d.circuit === id);
  const separable = damaged.some((d) => d.isSeparable);
  const looked = value.checks.some((c) => c.id === namedChecks.look && c.outcome !== null);
  const lookFirst = (value.intake.liquid || value.intake.priorRepair) && !looked && value.readings.length === 0;
  const hasShort = stage.shorts.length > 0;
  return (candidate) => {
    const { kind, id, check, action } = candidate;
    if (id.startsWith('place:')) {
      if (/^place:(replace|refit|reconnect):/.test(id)) return rank.fit;
      if (id.startsWith('place:remove:')) return rank.located;
      return hasShort ? rank.known : rank.damage;
    }
    if (id.startsWith('ground:damage:')) return rank.damage;
    if (!hasShort) {
      // Damage in the very place that the draw points to is dealt with before anything else is asked.
      if (action && actionTypes[action.kind].isLight && isDamaged(action.circuit)) return rank.damage;
      if (
        separable &&
        (check === namedChecks.peripherals || (action?.kind === 'disconnect' && action.circuit === 'periph.board'))
      )
        return rank.damage;
      return lookFirst && check === namedChecks.look ? rank.look : 0;
    }
    if (kind === 'action')
      return ['located', 'short-behind'].includes((candidate as ChangeCandidate).needs) ? rank.located : 0;
    if (kind !== 'injection') return 0;
    const fed = stage.shorts.find(
      (s) =>
        s.where === candidate.where ||
        (candidate.at?.includes(s.where) ?? false) ||
        isSamePart(s.where, candidate.where ?? ''),
    );
    return fed && fed.hot === null ? rank.short : 0;
  };
}
