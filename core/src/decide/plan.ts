import { actionTypes, namedChecks, circuitIds, circuitNames, depthOf } from '../catalogue/index.ts';
import { type Action, plainAction } from '../case/index.ts';
import { samePlace } from '../hypotheses/index.ts';
import { expectedBits, outlookOf, sumBy, type Outlook, type PerHypothesis } from '../inference/index.ts';
import { observationKinds, shortsOf, type Candidate, type ChangeCandidate } from '../observation/index.ts';
import { changesLeft, deviceState, isUntried, isWorking, openProofs, type DeviceState } from '../proof/index.ts';
import { formatPercent } from '../quantity/index.ts';
import { gateCandidates } from './gate.ts';
import { isolationOf, placesOf } from './isolation.ts';
import { depthReached, openingMinutes } from './opening.ts';
import policy from './policy.json';
import { priorityOf } from './priority.ts';
import { stageOf, type Stage } from './stage.ts';
import type { RankedTest } from './ranked.ts';
import type { Grouping, Standing } from './standing.ts';
import { repairMinutes, usualShop, type ShopPolicy } from './economy.ts';
import { stopAdvice } from './stop.ts';
import { proofSuggestion, stopSuggestion, toSuggestion, trySuggestion } from './suggest.ts';
import type { Suggestion } from './suggestion.ts';

/** What to do next, best first, and how long it will take to decide. */
export interface Plan {
  next: Suggestion[];
  outlook: Outlook;
}

/** Groups the hypotheses by circuit. */
export function byCircuits({ history }: Pick<Standing, 'history'>): Grouping {
  return {
    of: history.space.circuitOf,
    groups: circuitIds.map((id) => ({ id, name: circuitNames[id], circuit: id })),
    isElements: false,
  };
}

/**
 * Ranks everything that can still be done: checks, readings, injections and changes by expected information about the
 * decision a minute, each by the same numbers that entering its outcome adds; proofs once it works; a reason to stop.
 * The job, the ladder of rails and the command line all ask here.
 *
 * @param standing the posterior, and how the device is now
 * @param shop its fee, hourly cost and limits
 * @param grouping what the work is about: circuits, or elements at the opened device
 */
export function planNext(
  standing: Standing,
  shop: ShopPolicy = usualShop,
  grouping: Grouping = byCircuits(standing),
): Plan {
  const { history, posterior, now } = standing;
  const circuits = sumBy(posterior, history.space.circuitOf, circuitIds.length);
  const reached = depthReached(history.value);
  const stage = stageOf(history);
  const state = deviceState(history, now);
  const ranked = rankTests(standing, grouping, stage);
  const said = (list: readonly RankedTest[]): Suggestion[] => list.map((r) => toSuggestion(standing, grouping, r));
  if (history.value.actions.length > 0 && isWorking(state)) {
    const fits = ranked.filter(isFitting);
    const proofs = openProofs(history, shop.functions).map(proofSuggestion);
    // What was unplugged to make it work has to be replaced; what was taken off may often stay off, once it works.
    const first = fits.filter((r) => (r.candidate.depth ?? 0) <= depthOf.plugPulled);
    const next = [...said(first), ...proofs, ...said(fits.filter((r) => !first.includes(r)))];
    const outlook = { minutes: 0, decided: Math.max(...circuits) };
    return { next: next.length > 0 ? next.slice(0, policy.maxSuggestions) : [stopSuggestion(closeAdvice)], outlook };
  }
  if (isReadyToTry(standing, state, stage))
    return {
      next: toTry(standing, state, ranked, said).slice(0, policy.maxSuggestions),
      outlook: { minutes: 0, decided: Math.max(...circuits) },
    };
  const list = said(shortList(ranked));
  const outlook = outlookOf(
    posterior,
    grouping.of,
    ranked
      .filter((r) => r.candidate.kind === 'check' || r.candidate.kind === 'reading')
      .slice(0, policy.outlookTests)
      .map((r) => ({ minutes: r.candidate.minutes, depth: r.candidate.depth, outcomes: Object.values(r.outcomes) })),
    reached,
    {
      decidedFrom: policy.decidedFrom,
      minShare: policy.outlookLeastShare,
      plausibleFrom: policy.plausibleFrom,
      minBits: policy.minBits,
      openingMinutes,
    },
  );
  const advice = stopAdvice(history.value, circuits, outlook, shop, stage.inVain);
  if (!advice) return { next: list.length > 0 ? list : [stopSuggestion(nothingLeft(circuits))], outlook };
  const stop = stopSuggestion(advice);
  return { next: advice.first ? [stop, ...list] : [...list, stop].slice(0, policy.maxSuggestions + 1), outlook };
}

/** No test is left: what is likely enough is worked on, and otherwise it was not found. */
function nothingLeft(circuits: readonly number[]): { why: string; first: boolean } {
  const p = Math.max(...circuits);
  const name = circuitNames[circuitIds[circuits.indexOf(p)]];
  const why =
    p >= policy.decidedFrom
      ? `No remaining test will narrow it further. Repair ${name}, which is ${formatPercent(p)} likely.`
      : 'No remaining test will narrow it further. Act on the first suspect, or stop here as not found.';
  return { why, first: false };
}

/**
 * Whether the next thing is to switch it on: something was mended or came off since it was tried last, and no short was found
 * since then. What is only lifted, split or unplugged is worked on.
 */
function isReadyToTry({ history }: Standing, state: DeviceState, { shorts }: Stage): boolean {
  const { actions } = history.value;
  const done = changesLeft(actions).at(-1);
  if (!done || !isUntried(state) || state.id === 'still-short') return false;
  const isApart = actionTypes[done.kind].isAssembly === true && actionTypes[done.kind].isTrial !== true;
  return !isApart && !shorts.some((s) => s.epoch > actions.indexOf(done));
}

/**
 * After a change the first thing is to try it: a place that was short is measured again where nobody did, what is off goes back on
 * where it must, then it is switched on, on a limited supply.
 */
function toTry(
  { history }: Standing,
  state: DeviceState,
  ranked: readonly RankedTest[],
  said: (list: readonly RankedTest[]) => Suggestion[],
): Suggestion[] {
  const fits = ranked.filter(isFitting);
  const again = state.id === 'short-gone' ? [] : ranked.filter((r) => isMeasuredAgain(history, r));
  const trial = trySuggestion(history);
  const others = ranked.filter((r) => !fits.includes(r) && !again.includes(r) && r.candidate.kind === 'reading');
  return [...said(again.slice(0, 1)), ...said(fits), trial, ...said(others)];
}

/** A reading to ground at a place that was short and was not measured since the change. */
function isMeasuredAgain(history: Standing['history'], { candidate }: RankedTest): boolean {
  return (
    candidate.kind === 'reading' &&
    candidate.mode !== 'voltage' &&
    shortsOf(history).some((s) => !s.isGone && samePlace(s.where, candidate.where ?? ''))
  );
}

const closeAdvice = { why: 'Everything the customer complained about has been tested. Close the job.', first: true };

/** What was taken off, lifted or unplugged goes back on. */
const isFitting = ({ candidate }: RankedTest): boolean => /^place:(replace|refit|reconnect):/.test(candidate.id);

/** Everything that can still be done and may be proposed where the work stands, in no order. */
export function openTests(
  standing: Standing,
  grouping: Grouping,
  stage: Stage = stageOf(standing.history),
): Candidate[] {
  const { history } = standing;
  return gateCandidates(
    standing,
    grouping,
    observationKinds.flatMap((kind) => kind.candidates(history)),
    stage,
  );
}

/** Every open test with what it is worth, best first, those that are not to be proposed now left out. */
export function rankTests(
  standing: Standing,
  grouping: Grouping,
  stage: Stage = stageOf(standing.history),
): RankedTest[] {
  const { history, posterior } = standing;
  const reached = depthReached(history.value);
  const kept = [...posterior.keys()].filter((h) => posterior[h] > policy.plausibleFrom * policy.keptShare);
  const weights = kept.map((h) => posterior[h]);
  const of = kept.map((h) => grouping.of[h]);
  const ranked = openTests(standing, grouping, stage).map((candidate): RankedTest => {
    const outcomes = outcomesOf(standing, candidate);
    const narrowed = Object.fromEntries(Object.entries(outcomes).map(([w, list]) => [w, kept.map((h) => list[h])]));
    const bits = expectedBits(weights, narrowed, of);
    const minutes = minutesOf(standing, candidate, reached);
    return { candidate, outcomes, bits, minutes, worth: bits / (minutes + policy.everyTestMinutes) };
  });
  return prefer(standing, grouping, ranked, stage);
}

/** Probability of every outcome of a candidate: for a change, what the next run will show. */
function outcomesOf(standing: Standing, candidate: Candidate): Record<string, PerHypothesis> {
  if (candidate.action && !candidate.id.startsWith('unplug:')) {
    const action: Action = {
      ...plainAction,
      id: '',
      kind: candidate.action.kind,
      circuit: candidate.action.circuit,
      target: candidate.action.target ?? '',
    };
    return standing.askAfter(candidate.question, action);
  }
  return standing.ask(candidate.question);
}

const poweredModes = ['voltage'];

/**
 * Minutes from here: the way into the device, and changing between a powered and an unpowered measurement, included.
 *
 * @param candidate the test
 * @param reached how deep the device is open already, 0 to 5
 * @returns bench minutes
 */
export function minutesOf({ history }: Pick<Standing, 'history'>, candidate: Candidate, reached: number): number {
  const last = history.value.readings.at(-1);
  const switches =
    last !== undefined &&
    candidate.mode !== null &&
    poweredModes.includes(last.mode) !== poweredModes.includes(candidate.mode);
  const work =
    candidate.action && candidate.minutes === 0 ? repairMinutes(candidate.action.circuit) : candidate.minutes;
  // With the board out, a look from outside needs it put together again.
  const back =
    reached >= depthOf.boardOut && candidate.depth === 0 && candidate.check !== null ? policy.backOutsideMinutes : 0;
  return work + openingMinutes(reached, candidate.depth) + (switches ? policy.modeSwitchMinutes : 0) + back;
}

/**
 * Best first. What is off goes back on once its short is gone; the part that warmed comes off before a short is fed again; what
 * looks damaged is measured, cleaned or unplugged before anything far away; with liquid or an earlier repair the board is looked
 * at first. Nothing that cannot be undone is proposed while a reversible test of similar worth is open.
 */
function prefer(standing: Standing, grouping: Grouping, ranked: RankedTest[], stage: Stage): RankedTest[] {
  const confirming = confirmingTest(standing, grouping, ranked);
  const least = grouping.isElements ? policy.minBitsAtElement : policy.minBits;
  const rankOf = priorityOf(standing, stage);
  const rank = (r: RankedTest): number => (r.candidate.id === confirming ? policy.confirmingRank : rankOf(r.candidate));
  const inOrder = (list: RankedTest[]): RankedTest[] => list.sort((a, b) => rank(b) - rank(a) || b.worth - a.worth);
  const telling = ranked.filter((r) => r.bits >= least || rank(r) > 0);
  // A plan never goes empty: what tells little is better than nothing.
  const worthwhile = inOrder(telling.length > 0 ? telling : ranked.filter((r) => r.bits > 0));
  const reversible = Math.max(
    0,
    ...worthwhile.filter((r) => r.candidate.depth < policy.irreversibleFrom).map((r) => r.bits),
  );
  return worthwhile.filter(
    (r) =>
      rank(r) > 0 ||
      r.candidate.depth < policy.irreversibleFrom ||
      r.candidate.check === namedChecks.heat ||
      reversible < policy.similarWorth * r.bits ||
      isProven(r),
  );
}

/** Where it is sure which element it is and nothing was found at it: the cheapest test that touches it. */
function confirmingTest(standing: Standing, grouping: Grouping, ranked: readonly RankedTest[]): string | null {
  const { space } = standing.history;
  if (!grouping.isElements || space.closeness !== 'own') return null;
  const { group, isSure, isTouched } = isolationOf(standing, grouping);
  if (!isSure || isTouched) return null;
  const places = placesOf(space.twin.board.profile, grouping.groups[group].id);
  const touching = ranked.filter((r) => (r.candidate.at ?? []).some((id) => places.has(id)));
  return touching.sort((a, b) => a.minutes - b.minutes)[0]?.candidate.id ?? null;
}

/** Work on what was found faulty is no guess. */
const isProven = ({ candidate }: RankedTest): boolean =>
  candidate.kind === 'action' &&
  (candidate.id.startsWith('element:') ||
    candidate.id.startsWith('place:') ||
    ['proof', 'located', 'residue', 'short-behind'].includes((candidate as ChangeCandidate).needs));

/** The best by bits a minute, and the one that tells most even where it takes long. */
function shortList(ranked: RankedTest[]): RankedTest[] {
  const list = ranked.slice(0, policy.maxSuggestions);
  const telling = ranked.reduce<RankedTest | null>((best, r) => (best === null || r.bits > best.bits ? r : best), null);
  if (telling && !list.includes(telling)) list[list.length - 1] = telling;
  return list;
}
