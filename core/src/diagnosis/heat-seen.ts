import { circuitIds, type Case, type Check } from '../case/index.ts';
import { clip } from '../quantity/index.ts';
import { elementNamed, targetOf, type Board, type Fault } from '../twin/index.ts';
import heat from './data/heat.json';
import type { DeviceTwin } from './device-twin.ts';
import type { EvidenceItem } from './model.ts';

/** What was seen to warm, and on which rail a voltage was put for it. Ids or names of the profile. */
export interface HeatSeen {
  /** The last hot element down the power tree; null where nothing warmed. */
  hot: string | null;
  /** Rail that was fed for it; null where the device was looked at while it ran. */
  rail: string | null;
}

/** Keys under which a check keeps what was seen to warm. */
export function heatSeenOf(check: Pick<Check, 'id' | 'outcome' | 'extra'>): HeatSeen | null {
  if ((check.id !== 'heat-view' && check.id !== 'inject') || check.outcome === null) return null;
  const text = (key: string): string | null => {
    const value = check.extra?.[key];
    return typeof value === 'string' && value !== '' ? value : null;
  };
  const [hot, rail] = [text('hot'), text('rail')];
  return hot === null && (rail === null || check.outcome !== 'none') ? null : { hot, rail };
}

/** Rail on which a fault conducts to ground; -1 where it does not. */
export function shortedRail(board: Board, fault: Fault | null): number {
  if (fault?.kind !== 'short') return -1;
  const target = targetOf(board.profile, fault.at);
  if (!target) return -1;
  if (target.element === 'rail') return target.index;
  if (target.element === 'load') return board.loadRail[target.index];
  if (target.element === 'converter') return board.from[target.index];
  if (target.element === 'peripheral') return board.railIndex.get(board.profile.peripherals[target.index].rail) ?? -1;
  return -1;
}

/**
 * Probability that the element with this id is what warms last, if the fault is so. Heat shows where the power goes: at the
 * part that is shorted; now and then somebody takes another part of its net, or one on the way to it, for the cause.
 *
 * @param hot id of the element; null for "nothing warmed"
 * @param fed index of the rail that was fed for it; -1 where the device was looked at while it ran
 */
export function heatLikelihood(board: Board, fault: Fault | null, hot: string | null, fed: number): number {
  const rail = shortedRail(board, fault);
  const reached = rail >= 0 && (fed < 0 || fed === rail);
  if (hot === null) return reached ? heat.nothingThough : heat.nothingWarm;
  if (!reached) return heat.elsewhere;
  if (fault?.at === hot) return heat.atTheFault;
  const target = targetOf(board.profile, hot);
  if (!target) return heat.elsewhere;
  const isOnNet =
    (target.element === 'rail' && target.index === rail) ||
    (target.element === 'load' && board.loadRail[target.index] === rail);
  if (isOnNet) return heat.sameRail;
  const feeds = target.element === 'converter' && board.to[target.index].includes(rail);
  return feeds ? heat.onTheWay : heat.elsewhere;
}

/** Evidence from what was seen to warm; only for the model's own profile, whose elements have names. */
export function heatEvidence(value: Case, twin: DeviceTwin): EvidenceItem[] {
  if (twin.closeness !== 'own') return [];
  const { profile } = twin.board;
  return value.checks.flatMap((check): EvidenceItem[] => {
    const seen = heatSeenOf(check);
    if (!seen) return [];
    const element = seen.hot === null ? null : elementNamed(profile, seen.hot);
    if (seen.hot !== null && element === null) return [];
    const fed = seen.rail === null ? null : elementNamed(profile, seen.rail);
    const rail = fed?.element === 'rail' ? fed.index : -1;
    const onRail = fed ? ` with ${clip(fed.name)} fed` : '';
    return [
      {
        source: `heat:${element?.id ?? 'none'}`,
        sentence: element ? `heat: ${clip(element.name)} warms last${onRail}` : `heat: nothing warms${onRail}`,
        logLikelihood: circuitIds.map(() => 0),
        fine: twin.hypotheses.map(
          (h) => heat.weight * Math.log(heatLikelihood(twin.board, h.fault, element?.id ?? null, rail)),
        ),
      },
    ];
  });
}
