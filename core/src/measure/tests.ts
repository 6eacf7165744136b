import { checkIds, checkTypes, type ActionKind, type CheckId } from '../case/index.ts';
import {
  heatLikelihood,
  movedLikelihoods,
  railsTold,
  readingTrust,
  repairMinutes,
  shortedRail,
  type DeviceTwin,
  type ProbePhase,
  type RailsTold,
  type RailTold,
} from '../diagnosis/index.ts';
import { batteryId } from '../twin/index.ts';
import policy from './data/measuring.json';
import { byElement, type Elements } from './elements.ts';

export type BoardTestKind = 'check' | 'unplug' | 'voltage' | 'resistance' | 'inject' | 'replace';

/** Something that can be done at the opened device, with what every hypothesis predicts for it. */
export interface BoardTest {
  /** The same for the same test, so that one that was made is not proposed again. */
  id: string;
  kind: BoardTestKind;
  /** Ids of the rails or of the element that it is about. */
  at: string[];
  /** Voltages: when they are measured; null elsewhere. */
  phase: ProbePhase | null;
  /** Minutes at the place, the way into the device left out. */
  minutes: number;
  depth: number;
  /** Probability of every outcome by hypothesis. */
  outcomes: Record<string, number[]>;
  /** Hypotheses that `outcomes` lists, where it does not list all. */
  over?: readonly number[];
}

/** What a test is planned from. */
export interface TestsFrom {
  twin: DeviceTwin;
  elements: Elements;
  /** By hypothesis. */
  posterior: readonly number[];
  /** Ids of tests that were made. */
  done: ReadonlySet<string>;
  /** Hypotheses that the outcomes of probes are listed for; all where left out. */
  only?: readonly number[];
  /** Kinds that are asked for; all where left out. */
  kinds?: readonly BoardTestKind[];
  /** Probability of every outcome of a check by hypothesis; checks are left out without it. */
  checks?: (check: CheckId) => Record<string, number[]> | null;
}

/** Every test at the opened device that is still open. */
export function boardTests(from: TestsFrom): BoardTest[] {
  const made: Record<BoardTestKind, (from: TestsFrom) => BoardTest[]> = {
    check: checkTests,
    voltage: voltageTests,
    resistance: resistanceTests,
    unplug: unplugTests,
    inject: injectTests,
    replace: replaceTests,
  };
  const kinds = from.kinds ?? (Object.keys(made) as BoardTestKind[]);
  const tests = kinds.flatMap((kind) => made[kind](from));
  // Outputs that are asked together are known once each of them was measured.
  const isDone = ({ id, kind, at, phase }: BoardTest): boolean =>
    from.done.has(id) ||
    (at.length > 1 && at.every((one) => from.done.has(phase === null ? `${kind}:${one}` : `${kind}:${one}:${phase}`)));
  const open = tests.filter((t) => !isDone(t));
  return from.only ? open.map((t) => (probes.includes(t.kind) ? { ...t, over: from.only } : t)) : open;
}

const probes: readonly BoardTestKind[] = ['voltage', 'resistance'];

const plausibleIn =
  ({ posterior }: TestsFrom) =>
  (h: number): boolean =>
    posterior[h] > policy.plausibleFrom;

const words: RailTold[] = ['up', 'down', 'swings'];

/** Spreads what is not told as expected over the other outcomes; nothing is known of a hypothesis that was not started. */
function spread<T extends string>(
  outcomes: readonly T[],
  told: (T | null)[],
  trust: (told: T) => number,
): Record<T, number[]> {
  const any = 1 / outcomes.length;
  const place = new Map<T | null, number>(outcomes.map((word, k) => [word, k]));
  const right = outcomes.map(trust);
  const wrong = right.map((p) => (1 - p) / Math.max(1, outcomes.length - 1));
  // One pass for all words: this is done for hundreds of points and thousands of hypotheses at every key.
  const lists = outcomes.map(() => new Array<number>(told.length).fill(any));
  told.forEach((t, h) => {
    const at = place.get(t);
    if (t === null || at === undefined) return;
    for (let k = 0; k < lists.length; k++) lists[k][h] = k === at ? right[at] : wrong[at];
  });
  return Object.fromEntries(outcomes.map((word, k) => [word, lists[k]])) as Record<T, number[]>;
}

/** Rails that stand in a good unit in this phase, so that one that does not is a finding. */
function expectedUp(twin: DeviceTwin, phase: ProbePhase): number[] {
  const healthy = twin.hypotheses.findIndex((h) => h.fault?.kind === 'none');
  const told = railsTold(twin, (h) => h === healthy)[healthy];
  return told ? told[phase].flatMap((word, rail) => (word === 'up' ? [rail] : [])) : [];
}

/** What the rails do by hypothesis, as far as it is asked for. */
function tableOf(from: TestsFrom): (RailsTold | null)[] {
  const all = railsTold(from.twin, plausibleIn(from));
  return from.only ? from.only.map((h) => all[h]) : all;
}

/** A device that has no other feed than the one on the bench is not plugged in for its own sake. */
function phasesOf({ board: { profile } }: DeviceTwin): ProbePhase[] {
  const hasTwoFeeds = profile.battery !== null && (profile.ports.length > 0 || profile.dcIn !== null);
  return hasTwoFeeds ? ['after', 'before', 'plugged'] : ['after', 'before'];
}

/** What can be looked at without a probe. Checks that ask for readings, heat or unplugging stand here as what they ask for. */
function checkTests({ checks }: TestsFrom): BoardTest[] {
  const others = checkIds.filter((id) => !policy.coveredChecks.includes(id) && checkTypes[id].outcomes.length > 0);
  return others.flatMap((id): BoardTest[] => {
    const outcomes = checks?.(id);
    if (!outcomes) return [];
    const { minutes, depth } = checkTypes[id];
    return [{ id: `check:${id}`, kind: 'check', at: [id], phase: null, minutes, depth, outcomes }];
  });
}

function voltageTests(from: TestsFrom): BoardTest[] {
  const { twin } = from;
  const { rails } = twin.board.profile;
  const table = tableOf(from);
  const trust = readingTrust(twin.closeness).voltage;
  return phasesOf(twin).flatMap((phase) => {
    const up = new Set(expectedUp(twin, phase));
    const single = [...up].map((rail): BoardTest => ({
      id: `voltage:${rails[rail].id}:${phase}`,
      kind: 'voltage',
      at: [rails[rail].id],
      phase,
      minutes: policy.minutes.voltage,
      depth: Math.max(policy.minutes.probeDepth, rails[rail].depth),
      outcomes: spread(
        words,
        table.map((t) => t?.[phase][rail] ?? null),
        () => trust,
      ),
    }));
    const together = outputGroups(from, up).map((group): BoardTest => ({
      ...togetherOf(
        from,
        group,
        table.map((t) => t && group.map((r) => t[phase][r]).join('+')),
        trust,
      ),
      id: `voltage:${group.map((r) => rails[r].id).join('+')}:${phase}`,
      kind: 'voltage',
      phase,
      minutes: policy.minutes.voltage + policy.minutes.nextOutput * (group.length - 1),
    }));
    return [...single, ...together];
  });
}

function resistanceTests(from: TestsFrom): BoardTest[] {
  const { twin } = from;
  const { rails } = twin.board.profile;
  const table = tableOf(from);
  const { short, sound } = readingTrust(twin.closeness);
  const trust = (told: string): number => (told === 'low' ? short : sound);
  const single = rails.map((rail, k): BoardTest => ({
    id: `resistance:${rail.id}`,
    kind: 'resistance',
    at: [rail.id],
    phase: null,
    minutes: policy.minutes.resistance,
    depth: Math.max(policy.minutes.probeDepth, rail.depth),
    outcomes: spread(
      ['low', 'sound'],
      table.map((t) => (t ? (t.low[k] ? 'low' : 'sound') : null)),
      trust,
    ),
  }));
  const together = outputGroups(from, new Set(rails.keys())).map((group): BoardTest => ({
    ...togetherOf(
      from,
      group,
      table.map((t) => t && group.map((r) => (t.low[r] ? 'low' : 'sound')).join('+')),
      Math.min(short, sound),
    ),
    id: `resistance:${group.map((r) => rails[r].id).join('+')}`,
    kind: 'resistance',
    phase: null,
    minutes: policy.minutes.resistance + policy.minutes.nextOutput * (group.length - 1),
  }));
  return [...single, ...together];
}

/** Outputs of one converter: they fail as one, so they are asked together before the converter is condemned. */
function outputGroups({ twin }: TestsFrom, of: ReadonlySet<number>): number[][] {
  return twin.board.to.map((outs) => outs.filter((r) => of.has(r))).filter((outs) => outs.length > 1);
}

function togetherOf(
  { twin }: TestsFrom,
  group: number[],
  told: (string | null)[],
  trust: number,
): Pick<BoardTest, 'at' | 'depth' | 'outcomes'> {
  const { rails } = twin.board.profile;
  const seen = [...new Set(told.filter((t) => t !== null))];
  return {
    at: group.map((r) => rails[r].id),
    depth: Math.max(policy.minutes.probeDepth, ...group.map((r) => rails[r].depth)),
    // One more that nobody expects, so that a finding outside the model has a place.
    outcomes: spread([...seen, 'otherwise'], told, () => trust ** group.length),
  };
}

const moves = ['recovers', 'falls', 'rises', 'same'] as const;

/** One peripheral off with the run going on. */
function unplugTests(from: TestsFrom): BoardTest[] {
  const { twin } = from;
  return twin.board.profile.peripherals.map((peripheral) => ({
    id: `unplug:${peripheral.id}`,
    kind: 'unplug',
    at: [peripheral.id],
    phase: null,
    minutes: policy.minutes.unplug,
    depth: policy.minutes.unplugDepth,
    outcomes: movedOutcomes(from, 'disconnect', peripheral.id),
  }));
}

const shortedRails = new WeakMap<DeviceTwin, number[]>();

/** Rail on which each hypothesis conducts to ground; -1 where it does not. */
function shortedRailsOf(twin: DeviceTwin): number[] {
  let rails = shortedRails.get(twin);
  if (!rails) shortedRails.set(twin, (rails = twin.hypotheses.map((h) => shortedRail(twin.board, h.fault))));
  return rails;
}

/** A voltage on a rail that somebody suspects of a short: what warms is the part, not only the rail. */
function injectTests(from: TestsFrom): BoardTest[] {
  const { twin, posterior } = from;
  const { board } = twin;
  const { rails } = board.profile;
  const suspicion = rails.map(() => 0);
  const on = shortedRailsOf(twin);
  on.forEach((rail, h) => {
    if (rail >= 0) suspicion[rail] += posterior[h];
  });
  return rails.flatMap((rail, k): BoardTest[] => {
    if (suspicion[k] < policy.suspectFrom) return [];
    const places = new Set(twin.hypotheses.flatMap((h, n) => (on[n] === k && h.fault ? [h.fault.at] : [])));
    const chance = (hot: string | null): number[] => {
      const unmoved = heatLikelihood(board, null, hot, k);
      return twin.hypotheses.map((h, n) => (on[n] === k ? heatLikelihood(board, h.fault, hot, k) : unmoved));
    };
    const outcomes = Object.fromEntries([...places].map((place) => [place, chance(place)]));
    return [
      {
        id: `inject:${rail.id}`,
        kind: 'inject',
        at: [rail.id],
        phase: null,
        minutes: policy.minutes.inject,
        depth: Math.max(policy.minutes.injectDepth, rail.depth),
        outcomes: normalised({ ...outcomes, nothing: chance(null) }),
      },
    ];
  });
}

/** The leading suspects can be replaced and the run made again: it says more than anything, and costs most. */
function replaceTests(from: TestsFrom): BoardTest[] {
  const { elements, posterior, twin } = from;
  const suspects = byElement(elements, posterior)
    .map((p, k) => ({ p, element: elements.list[k] }))
    .filter(({ p, element }) => p >= policy.suspectFrom && isReplaceable(twin, element.id))
    .sort((a, b) => b.p - a.p)
    .slice(0, policy.mostReplaced);
  return suspects.map(({ element }) => ({
    // Work fails now and then: what is still suspected after it may be replaced a second time.
    id: from.done.has(`replace:${element.id}`) ? `replace:${element.id}:again` : `replace:${element.id}`,
    kind: 'replace',
    at: [element.id],
    phase: null,
    minutes: repairMinutes(element.circuit),
    depth: isUnplugged(twin, element.id) ? policy.minutes.unplugDepth : policy.minutes.replaceDepth,
    outcomes: movedOutcomes(from, 'replace', element.id),
  }));
}

/** Rails are not replaced: what is shorted on them is found first. */
function isReplaceable(twin: DeviceTwin, id: string): boolean {
  const { profile } = twin.board;
  const lists: { id: string }[][] = [
    profile.converters,
    profile.parts,
    profile.loads,
    profile.peripherals,
    profile.ports,
    profile.dcIn ? [profile.dcIn] : [],
    profile.battery ? [{ id: batteryId }] : [],
  ];
  return lists.flat().some((x) => x.id === id);
}

/** True for what comes off without heat. */
function isUnplugged({ board: { profile } }: DeviceTwin, id: string): boolean {
  return id === batteryId || profile.peripherals.some((p) => p.id === id);
}

function movedOutcomes(from: TestsFrom, kind: ActionKind, id: string): Record<string, number[]> {
  // Every one of these is a start-up of its own: only who counts is asked.
  const told = movedLikelihoods(from.twin, kind, id, (h) => from.posterior[h] > policy.startedFrom);
  return normalised(Object.fromEntries(moves.map((m) => [m, told.map((t) => t?.[m] ?? 1 / moves.length)])));
}

function normalised(outcomes: Record<string, number[]>): Record<string, number[]> {
  const lists = Object.values(outcomes);
  const sums = (lists[0] ?? []).map((_, h) => lists.reduce((sum, list) => sum + list[h], 0));
  return Object.fromEntries(Object.entries(outcomes).map(([word, list]) => [word, list.map((x, h) => x / sums[h])]));
}
