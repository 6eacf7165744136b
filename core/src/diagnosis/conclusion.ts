import {
  namedChecks,
  actionTypes,
  circuitIds,
  circuitNames,
  type CircuitId,
  type OutcomeGrade,
} from '../catalogue/index.ts';
import { sayAction, unitNames, type Action } from '../case/index.ts';
import { stopAdvice, stageOf, usualShop, type ShopPolicy, type StopAdvice } from '../decide/index.ts';
import { sumBy, type Outlook } from '../inference/index.ts';
import { suspectGroup, type SuspectGroup } from '../library/index.ts';
import {
  isSplit,
  partsAway,
  placeBefore,
  reachOf,
  seenNow,
  senseOf,
  shortsOf,
  signsOf,
  swappedUnit,
  type History,
} from '../observation/index.ts';
import { changesLeft, deviceState, isUntried, isWorking, openProofs, type DeviceState } from '../proof/index.ts';
import { formatPercent, formatResistance } from '../quantity/index.ts';
import type { Belief } from './belief.ts';
import settings from './conclusion.json';

/** What the evidence supports as the outcome of a job, with the reasons. Nothing more is proposed than that. */
export interface OutcomeProposal {
  /** Null where a circuit was found and nothing was repaired: declined and not economical are the shop's to say. */
  grade: OutcomeGrade | null;
  circuit: CircuitId | null;
  /** Element or part, in words; empty where none was named. */
  target: string;
  /** What cured it, in words; empty where nothing did. */
  fix: string;
  because: string[];
}

/** What is concluded of a job: the one place that verdict, next step, closing, worth, quote, reports and the bench's list read. */
export interface Conclusion {
  /** Suspects that are named together, since they cannot be told apart yet; null where they are too many. */
  group: SuspectGroup | null;
  /** The next test that tells the suspects of the group apart; null where none does, or one suspect is enough. */
  splitBy: string | null;
  /** The outcome that the evidence supports; null where it supports none. */
  outcome: OutcomeProposal | null;
  /** What is still to be shown, names of protocols. */
  open: string[];
  /** Why to stop, and whether before anything else is tested; null where going on is right. */
  stop: StopAdvice | null;
  /** The first suspect leads only by what the shop remembers. */
  isByMemory: boolean;
}

/** What a conclusion takes of the plan. */
interface Planned {
  next: readonly { kind: string; name: string; predicts: readonly { circuit: CircuitId; outcome: string }[] }[];
  outlook: Outlook;
}

/**
 * Concludes from what is believed after the whole history: how the device is, and what the job has come to.
 *
 * @param plan what is proposed next
 * @param shop what it does not repair, and what its hours cost
 */
export function concludeCase(
  belief: Belief,
  plan: Planned,
  shop: ShopPolicy = usualShop,
): { state: DeviceState; conclusion: Conclusion } {
  const { history, posterior, now } = belief;
  const circuits = sumBy(posterior, history.space.circuitOf, circuitIds.length);
  const ranked = circuitIds.map((id, k) => ({ id, p: circuits[k] })).sort((a, b) => b.p - a.p);
  const state = deviceState(history, now);
  const works = history.value.actions.length > 0 && isWorking(state);
  // Nothing is given up while the last change has not been tried.
  const canStop = !works && plan.next[0]?.kind !== 'verify';
  // Mended by the meter alone: the short is gone, and nothing that belongs on the board is missing.
  const isMended = state.id === 'short-gone' && partsAway(history).every((x) => x.stays);
  const group = suspectGroup(ranked);
  const stop = canStop ? stopAdvice(history.value, circuits, plan.outlook, shop, stageOf(history).inVain) : null;
  // Where the advice is to stop at a circuit, that circuit is what the job is closed with.
  const proposeFrom = stop?.circuit ? settings.leadsFrom : settings.proposeFrom;
  const seen = works ? seenToWork : isMended ? state.sentence : null;
  const conclusion: Conclusion = {
    group: group && group.circuits.length <= settings.maxInGroup ? group : null,
    splitBy: group && group.circuits.length > 1 && !works ? splitOf(group, plan) : null,
    outcome: outcomeOf(belief, circuits, state, seen, proposeFrom),
    open: works || isUntried(state) ? openProofs(history, shop.functions).map((p) => p.name) : [],
    stop,
    isByMemory: belief.byMemory,
  };
  return { state, conclusion };
}

/** The first test whose outcome differs between suspects of the group. */
function splitOf({ circuits }: SuspectGroup, { next }: Planned): string | null {
  const splits = next.find(({ kind, predicts }) => {
    const outcomes = predicts.filter((p) => circuits.includes(p.circuit)).map((p) => p.outcome);
    return kind !== 'verify' && kind !== 'stop' && new Set(outcomes).size > 1;
  });
  return splits?.name ?? null;
}

/**
 * The outcome that the evidence supports: the circuit whose part was changed before it works, measured where something was found
 * there before, cleared where it was not; a fault that went with nothing changed has disappeared.
 */
function outcomeOf(
  belief: Belief,
  circuits: readonly number[],
  state: DeviceState,
  seen: string | null,
  proposeFrom: number,
): OutcomeProposal | null {
  const { history } = belief;
  const accused = circuitIds.filter((id) => id !== 'none' && id !== 'unmodelled');
  const top = accused.reduce((a, b) => (circuits[circuitIds.indexOf(b)] > circuits[circuitIds.indexOf(a)] ? b : a));
  const p = circuits[circuitIds.indexOf(top)];
  const none = circuits[circuitIds.indexOf('none')];
  const leads = `${circuitNames[top]}: ${formatPercent(p)} likely`;
  const found = foundAt(history, top);
  if (seen === null) {
    if (p < proposeFrom || found.length === 0) return null;
    return {
      grade: null,
      circuit: top,
      target: placeOf(history, top),
      fix: '',
      because: [...found, leads, notYet(history)],
    };
  }
  const cure = cureOf(belief);
  if (cure === null && state.id === 'works-with-other') return ofItsOwnThing(history, state);
  if (cure === null) {
    if (none > p) return null;
    const because = [seen, 'No repair lies between the last failure and the first time it worked.', `${leads}.`];
    return { grade: 'disappeared', circuit: null, target: '', fix: '', because };
  }
  const fix = `${capital(sayAction(cure))}.`;
  const named = cure.circuit ?? (p >= settings.leadsFrom ? top : null);
  const isWhole = swappedUnit(cure) !== null || (cure.kind === 'clean' && cure.circuit === null);
  const circuit = isWhole && p < settings.leadsFrom ? null : named;
  const foundThere = circuit === null ? [] : foundAt(history, circuit);
  return {
    grade: foundThere.length > 0 ? 'measured' : 'cleared',
    circuit,
    target: cure.target || (circuit ? placeOf(history, circuit) : ''),
    fix,
    because: [
      seen,
      `${capital(sayAction(cure))} before that; ${leads}.`,
      ...(foundThere.length > 0
        ? foundThere
        : ['Nothing was measured inside that circuit, so the exact cause is not known.']),
    ],
  };
}

/** It works with a good thing in place of the device's own, as a test: the fault is in the device's own, and not repaired yet. */
function ofItsOwnThing(history: History, { sentence }: DeviceState): OutcomeProposal {
  const unit =
    seenNow(history).last?.other ?? changesLeft(history.value.actions).findLast((a) => a.with === 'good')?.unit ?? null;
  const circuit = unit === 'pack' ? 'battery.pack' : unit === 'display' || unit === 'button' ? unit : null;
  const target = unit === null ? '' : `the device’s own ${unitNames[unit]}`;
  return { grade: null, circuit, target, fix: '', because: [sentence] };
}

const seenToWork = 'It has worked since then.';

/** What is between a cause that was found and a device that works. */
function notYet(history: History): string {
  const { actions } = history.value;
  const away = partsAway(history).filter((x) => x.is === 'off' && !x.stays);
  if (away.length > 0) return `Still missing: ${away.map((x) => x.name).join(', ')}.`;
  return actions.some((a) => actionTypes[a.kind].isRepair || a.kind === 'remove')
    ? 'It has not been tested since the repair.'
    : 'No repair yet.';
}

/**
 * The change that most likely cured it: of those that lie between the last failure and the first time it worked, and were not taken
 * back, the one that reaches the fault best. Null where none lies there: then it went by itself. Taking boards apart for access
 * takes no credit, nor does a trial, nor what nobody can name a circuit or a part of.
 */
function cureOf({ history, posterior }: Belief): Action | null {
  const { actions } = history.value;
  const undone = new Set(actions.map((a) => a.undoes));
  const failed = Math.max(0, ...signsOf(history).flatMap((s) => (s.works ? [] : [s.epoch])));
  const byItself = actions.findLastIndex((a) => a.byItself);
  const reached = actions.flatMap((action, k) => {
    const isRepair =
      !action.byItself &&
      !isSplit(action) &&
      actionTypes[action.kind].isTrial !== true &&
      !(action.kind === 'other' && action.circuit === null);
    if (!isRepair || undone.has(action.id) || k < failed || k < byItself) return [];
    const { direct } = reachOf(history, action);
    return [{ action, p: direct.reduce((sum, d, h) => sum + d * posterior[h], 0) }];
  });
  const best = reached.reduce<(typeof reached)[number] | null>(
    (top, x) => (top === null || x.p >= top.p ? x : top),
    null,
  );
  return best?.action ?? null;
}

const capital = (text: string): string => text.charAt(0).toUpperCase() + text.slice(1);

/** What was found by measurement at a circuit, as sentences. */
function foundAt(history: History, circuit: CircuitId): string[] {
  const { value } = history;
  const shorts = shortsOf(history)
    .filter((s) => s.circuit === circuit || s.hotCircuit === circuit || s.circuit === null)
    .map((s) => `Short measured at ${s.where}${s.ohm === null ? '' : `: ${formatResistance(s.ohm)}`}.`);
  const readings = value.readings.flatMap((r) => {
    if (r.circuit !== circuit) return [];
    const sense = senseOf(r, value.device.expect, placeBefore(history, r));
    const isBad = sense.of !== 'nothing' && settings.badWords.includes(sense.word);
    return isBad ? [capital(`${r.where}: ${sense.word}.`)] : [];
  });
  const heat = [
    ...value.injections
      .filter((i) => i.hotCircuit === circuit && (i.heat === 'one-spot' || i.heat === 'several-spots'))
      .map((i) => capital(`${i.hot ?? 'one spot'} warmed when ${i.rail} was fed.`)),
    ...value.checks
      .filter((c) => c.id === namedChecks.heat && c.circuit === circuit && c.outcome === 'one-spot')
      .map((c) => capital(`${c.where || 'one spot'} warmed.`)),
  ];
  return [...new Set([...shorts, ...(shorts.length > 0 ? [] : readings), ...heat])];
}

/** The place inside a circuit that was named: what warmed, else where it was measured. */
function placeOf({ value }: History, circuit: CircuitId): string {
  return (
    value.injections.findLast((i) => i.hotCircuit === circuit && i.hot)?.hot ??
    value.checks.findLast((c) => c.id === namedChecks.heat && c.circuit === circuit && c.where)?.where ??
    value.readings.findLast((r) => r.circuit === circuit)?.where ??
    ''
  );
}
