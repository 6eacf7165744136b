import { actionDone, type Run } from '../case/index.ts';
import type { StateTable } from '../inference/index.ts';
import { contextFor, figuresOf } from '../prediction/index.ts';
import type { Reason } from '../reasons/index.ts';
import { circuitIds, patternIds, patternTypes, unrecognised, type PatternId } from '../catalogue/index.ts';
import { topPattern } from '../shape/index.ts';
import type { Entry, History, ObservationKind } from './kind.ts';
import { patternTable, type PatternContext } from './pattern-table.ts';
import { populationOf, withPopulation } from './population.ts';
import { differences, isOwn, isTurned, outside, sameAssembly, type Thing } from './assembly.ts';
import { movedBetweenRuns, movedQuestion } from './moved.ts';
import {
  faultStates,
  likelihoodsOf,
  meanOverFaults,
  relativeStates,
  stateIndex,
  withAnyFault,
  type Question,
} from './question.ts';
import { fitOfRun } from './profile-trust.ts';
import { failedBefore, sameSetup } from './run-before.ts';
import { isConfounded } from './transition.ts';
import details from './run-details.json';
import rules from './runs.json';
import { isOfHalf, levelOf, readsTheSame, type SeenRun } from './observed-run.ts';

/** What of a run decides which shares of causes hold for its pattern. */
function patternContextOf({ value }: Pick<History, 'value'>, seen: SeenRun): PatternContext {
  const { features } = seen.shape;
  const { pulses } = features.whole;
  const top = topPattern(seen.patterns);
  const asks =
    seen.run.quantity === 'voltage-only'
      ? 'voltage'
      : patternTypes[top].healthyWhen === 'rest'
        ? 'rest'
        : seen.run.feed !== 'battery' || features.prompted || patternTypes[top].isFullStart
          ? 'start'
          : 'rest';
  return {
    feed: seen.run.feed,
    deviceClass: value.device.class,
    family: figuresOf(value.device).family,
    phase:
      patternTypes[top].mayBeFeed && feedPulses(seen)
        ? 'feed'
        : pulses === null
          ? null
          : features.before?.pulses || !features.prompted
            ? 'before'
            : 'after',
    asks,
  };
}

/** Whether it is the voltage of the feed itself that pulses: what stands before the load lets go. */
function feedPulses({ run, shape }: SeenRun): boolean {
  const { cycles } = shape.features.voltage;
  return run.feed !== 'usb-c' && cycles !== null && cycles.lowA < details.feedPulsesTo * cycles.highA;
}

/**
 * What every hypothesis expects of a run by its pattern: of what fails the practitioners' table, with the worlds beside it, and of what
 * looks healthy the worlds. A likelihood for each pattern; it need not sum to 1.
 *
 * @param seen the run with the patterns that it was recognised as
 * @returns one outcome a pattern, by hypothesis
 */
export function patternQuestion(
  history: Pick<History, 'value' | 'space' | 'seen' | 'epochOf' | 'over'>,
  seen: SeenRun,
): Question {
  const context = patternContextOf(history, seen);
  const table = patternTable(context);
  const usual = Object.fromEntries(
    (Object.keys(table) as (keyof typeof table)[]).map((id) => [id, history.space.netOf.map((c) => table[id][c])]),
  ) as Record<keyof typeof table, number[]>;
  const population = populationOf(history);
  const predicted = population?.patterns.get(seen.run.id);
  const share = population?.shares.patterns ?? 0;
  const healthy = patternIds.filter((id) => patternTypes[id].healthyWhen === context.asks);
  return {
    key: `pattern:${seen.run.feed}:${seen.run.quantity}`,
    repeats: rules.repeatedPattern,
    outcomes: predicted
      ? withPopulation(usual, predicted, history.space.netOf, share, patternIds, history.over.prior, healthy)
      : usual,
  };
}

/**
 * The voltage at the plug of the pack while the port is fed, by whichever it was seen: a meter or a run of volts.
 *
 * @returns outcomes as a voltage has them: it swings or stands as a run of it would show, and else it is not there
 */
export function packVoltageQuestion({ value, space, over }: Pick<History, 'value' | 'space' | 'over'>): Question {
  const { family } = figuresOf(value.device);
  const table = patternTable({
    feed: 'usb-c',
    deviceClass: value.device.class,
    family,
    phase: null,
    asks: 'voltage',
  });
  // As sharp as a run of it is.
  const of = (id: string): number[] => {
    const list = space.circuitOf.map((c) => table[id as PatternId][c]);
    const any = Math.max(meanOverFaults(list, over), 1e-6);
    return list.map((x) => Math.min(details.packVoltage.most, any * (x / any) ** rules.tableSharpness));
  };
  const [swings, present] = [of(details.packVoltage.swingsAs), of(details.packVoltage.standsAs)];
  const rest = (share: number): number[] => swings.map((x, h) => Math.max(1e-6, 1 - x - present[h]) * share);
  const { missing, low, high } = details.packVoltage;
  return {
    key: 'voltage:battery.pack:plugged',
    repeats: rules.repeatedReading,
    outcomes: { present, swings, missing: rest(missing), low: rest(low), high: rest(high) },
  };
}

/** What a run says by its pattern, relative to what any fault would show: above 1 speaks for the hypothesis. */
function byTable(history: Pick<History, 'value' | 'space' | 'over' | 'seen' | 'epochOf'>, seen: SeenRun): number[] {
  const { outcomes } = patternQuestion(history, seen);
  const total = history.space.hypotheses.map(() => 0);
  let usual = 1e-9;
  for (const { id, p: given } of seen.patterns) {
    // The recogniser always leaves a little for what it does not know: that much is no finding.
    const p = id === unrecognised ? Math.max(0, given - rules.usuallyUnknown) / (1 - rules.usuallyUnknown) : given;
    if (p < rules.minPattern) continue;
    const any = Math.max(meanOverFaults(outcomes[id], history.over), 1e-6);
    // The recogniser gives patterns that are met often a part of what they are owed: that much is not evidence.
    const owed = any ** rules.owedToUsual;
    usual += (p * any) / owed;
    outcomes[id].forEach((x, h) => (total[h] += (p * x) / owed));
  }
  total.forEach((x, h) => (total[h] = x / usual));
  // The shares of the table are those of a cautious hand: measured on played cases they say less than they know. But a run
  // may also be of another moment, setup or device than was thought, and excludes nothing for good.
  return total.map((x, h) => {
    const slip = h === history.over.none ? 0 : rules.slip;
    return slip + (1 - slip) * (x * detailOf(history, seen, h)) ** rules.tableSharpness;
  });
}

/** What the level before power-on, and the moment of the last rise, say beyond the pattern. */
function detailOf({ value, space }: Pick<History, 'value' | 'space'>, seen: SeenRun, h: number): number {
  const f = seen.shape.features;
  const top = topPattern(seen.patterns);
  const circuit = circuitIds[space.netOf[h]];
  if (patternTypes[top].tellsSize && seen.run.feed === 'battery') {
    const share = ((f.before ?? f.whole).levelW ?? 0) / contextFor(value, seen.run).expectation.startPeakW;
    const size = share < details.leakUpToShare ? 'leak' : share > details.shortFromShare ? 'short' : 'between';
    const row = (details.size as Record<string, Record<string, number>>)[circuit] ?? details.size.default;
    return row[size] / details.size.default[size];
  }
  const { timedBy } = patternTypes[top];
  const after = timedBy === 'peak' ? (f.after?.peakAfterS ?? null) : (f.after?.lastStepAfterS ?? null);
  const timed = f.intervalS <= details.timedUpToIntervalS && f.prompted && !f.promptInferred && seen.run.typed === null;
  if (!timed || after === null || timedBy === undefined) return 1;
  const windows =
    (details.delaysS as unknown as Record<string, Record<string, [number, number]>>)[figuresOf(value.device).family] ??
    {};
  const window = windows[circuit];
  if (!window) return details.delayUnknown;
  const [low, high] = window;
  const outside = Math.max(
    0,
    Math.log((after + details.levelFloorA) / (high + details.levelFloorA)),
    Math.log((low + details.levelFloorA) / (after + details.levelFloorA)),
  );
  return details.delayOutside + (1 - details.delayOutside) * Math.exp(-((outside / details.delayFade) ** 2) / 2);
}

const shownBefore = new WeakMap<readonly SeenRun[], number[]>();

/** What the runs before any change say together by the table, relative to what any fault would show, by hypothesis. */
export function runsSay(
  history: Pick<History, 'value' | 'space' | 'seen' | 'over' | 'epochOf' | 'assemblies'>,
): readonly number[] {
  let product = shownBefore.get(history.seen);
  if (!product || product.length !== history.space.hypotheses.length) {
    product = history.space.hypotheses.map(() => 1);
    for (const seen of history.seen) {
      if (history.epochOf(seen.run.after) !== 0) continue;
      const repeats = repeatsEarlier(history, seen);
      byTable(history, seen).forEach((x, h) => ((product as number[])[h] *= repeats + (1 - repeats) * x));
    }
    shownBefore.set(history.seen, product);
  }
  return product;
}

/**
 * How far a run only repeats an earlier one of the same state of the device, 0 to 1.
 *
 * @param isSame whether two runs were made with the device put together alike, as far as it matters
 */
function repeatsEarlier(
  { seen: all, epochOf }: Pick<History, 'seen' | 'epochOf'>,
  seen: SeenRun,
  isSame: (a: Run, b: Run) => boolean = () => true,
): number {
  const alike = all
    .slice(0, all.indexOf(seen))
    .filter(
      ({ run, patterns }) =>
        run.feed === seen.run.feed &&
        run.quantity === seen.run.quantity &&
        topPattern(patterns) === topPattern(seen.patterns) &&
        epochOf(run.after) === epochOf(seen.run.after) &&
        isSame(run, seen.run),
    );
  // The third time says less than the second: what is one fact tends to one fact, however often it is entered.
  const again = (repeats: number): number => 1 - (1 - repeats) ** alike.length;
  if (alike.some((one) => sameSetup(one.run, seen.run) && readsTheSame(one, seen))) return again(rules.repeatedReading);
  return Math.max(
    again(rules.repeatedPattern),
    darkenedBy(
      all.filter((s) => epochOf(s.run.after) === epochOf(seen.run.after)),
      seen,
    ),
  );
}

/** How surely a run only shows that the supplies are pulled down, as one on another feed has it in its current limit. */
function darkenedBy(others: readonly SeenRun[], { run, patterns }: SeenRun): number {
  const shown = topPattern(patterns);
  const limits = others.filter(
    (s) => s.run.feed !== run.feed && patternTypes[topPattern(s.patterns)].darkens?.includes(shown),
  );
  return Math.max(0, ...limits.map((s) => rules.darkened * s.patterns[0].p));
}

/** What a run shows by itself, as a reason. */
function reasonOf(seen: SeenRun): Reason {
  const [top] = seen.patterns;
  const { before, whole, resolutionA } = seen.shape.features;
  const { tellsSize, startsOver } = patternTypes[top.id];
  const beforeA = tellsSize ? (before ?? whole).levelA : null;
  const periodS = startsOver ? (whole.pulses?.periodS ?? null) : null;
  return { id: 'run', values: { run: seen.run.id, pattern: top.id, p: top.p, beforeA, resolutionA, periodS } };
}

/** A supply that stood at nothing and gave nothing, and not in its limit: whoever recorded it forgot to switch it on. */
function neverFed({ run, shape }: SeenRun): boolean {
  const { voltage, whole } = shape.features;
  if (run.feed === 'usb-c' || run.quantity !== 'current' || whole.limitShare > 0 || whole.pulses) return false;
  return voltage.highest !== null && voltage.highest < rules.fedFromV && whole.zeroShare > rules.unfedShare;
}

/** What a run by itself says for every state of the fault, relative to what any fault would show. */
function freshTable(history: History, seen: SeenRun): StateTable {
  const table = byTable(history, seen);
  const { space, over } = history;
  const predicted = fitOfRun(history, seen)?.likelihood ?? null;
  const l = 1 - space.trust;
  return relativeStates(predicted === null ? table : table.map((t, h) => (1 - l) * predicted[h] + l * t), over);
}

/**
 * A run that is held against one that failed with the fault in the device: as long as the fault is there it shows the same again,
 * or what it would show at first; with the fault gone or away it recovers.
 *
 * @param before the run that failed
 * @param isIn whether the fault is in the device now
 */
function heldAgainst(history: History, before: SeenRun, seen: SeenRun, fresh: StateTable, isIn: boolean): StateTable {
  const word = movedBetweenRuns(before, seen);
  const { assemblies, space, over } = history;
  const turned = isTurned(assemblies.ofRun(before.run), assemblies.ofRun(seen.run));
  const moved = likelihoodsOf(movedQuestion(space, 0, turned), over)[word];
  const any = moved[stateIndex.other];
  // The same pattern on another level is mostly the same thing seen again.
  const repeats =
    topPattern(before.patterns) === topPattern(seen.patterns) ? rules.repeatedPattern : rules.movedPattern;
  return faultStates.map((state, s) => {
    const row = isIn || state === 'other' ? moved[s] : moved[stateIndex.works];
    const again = row.map((p, h) => p / any[h]);
    if (!isIn || state !== 'same' || word === 'same' || word === 'recovers') return again;
    return again.map((p, h) => p * (repeats + (1 - repeats) * fresh[s][h]));
  });
}

/** What a run says beside the one that it is held against, as a reason: what was changed or out of the way, and what followed. */
function reasonHeld(history: History, before: SeenRun, seen: SeenRun): Reason {
  const epoch = history.epochOf(seen.run.after);
  const action = history.value.actions[epoch - 1];
  const held = {
    moved: movedBetweenRuns(before, seen),
    before: levelOf(before),
    now: levelOf(seen, before),
  };
  if (history.epochOf(before.run.after) === epoch) {
    const without = differences(history.assemblies.ofRun(before.run), history.assemblies.ofRun(seen.run));
    return { id: 'compared', values: { ...held, without } };
  }
  return { id: 'changed', values: { ...held, action: actionDone(action), isWeak: isConfounded(action) } };
}

/**
 * What a run shows. The model's own twin, where there is one, and the practitioners' table are joined at one place:
 * `P = (1 - l) P_twin + l P_table`, both relative to what any fault would show. By the place of the fault, a run in which the fault
 * is there mostly repeats an earlier one in which it was, and one in which it is not shows what a sound device shows.
 */
export const runKind: ObservationKind = {
  id: 'run',
  entries: (history) =>
    history.seen.flatMap((seen): Entry[] => {
      const epoch = history.epochOf(seen.run.after);
      const common = { source: `run:${seen.run.id}`, epoch };
      if (neverFed(seen))
        return [{ kind: 'run', ...common, reason: reasonOf(seen), why: { id: 'never-on', values: {} } }];
      const { assemblies } = history;
      // What a half shows by itself is said of both halves together; beside an earlier run of it, it says what a change did.
      const half = isOfHalf(seen);
      if (half && !failedBefore(history, seen, () => true)) return [];
      const fresh = half
        ? relativeStates(
            history.space.hypotheses.map(() => 1),
            history.over,
          )
        : freshTable(history, seen);
      const assembly = assemblies.ofRun(seen.run);
      const isIn = (thing: Thing | null, run: Run): boolean => isOwn(assemblies.ofRun(run), thing);
      const tables = [...assemblies.things, null].map((thing) => {
        const before = failedBefore(history, seen, (run) => isIn(thing, run));
        const alone = thing?.id === outside ? withAnyFault(fresh, history.over) : fresh;
        const table = before ? heldAgainst(history, before, seen, alone, isIn(thing, seen.run)) : alone;
        // By itself a run says again what one said with the fault in or out as it is now; beside another, what one said so put together.
        const repeats = repeatsEarlier(history, seen, (a, b) =>
          before ? sameAssembly(assemblies.ofRun(a), assemblies.ofRun(b)) : isIn(thing, a) === isIn(thing, b),
        );
        return table.map((row) => row.map((x) => repeats + (1 - repeats) * x));
      });
      const before = failedBefore(history, seen, () => true);
      const kind = before === null ? 'run' : history.epochOf(before.run.after) === epoch ? 'comparison' : 'change';
      const reason = before === null ? reasonOf(seen) : reasonHeld(history, before, seen);
      return [{ kind, ...common, reason, answer: null, likelihood: tables, assembly }];
    }),
  candidates: () => [],
};
