import { circuitIds, circuitNames } from '../catalogue/index.ts';
import { placeName, type Case } from '../case/index.ts';
import { planNext, stageOf, type ShopPolicy, type Suggestion } from '../decide/index.ts';
import type { Outlook } from '../inference/index.ts';
import { circuitsWithoutElement } from '../hypotheses/index.ts';
import {
  devicesLeft,
  senseOf,
  spontaneousWarnings,
  swollenPack,
  type DevicesLeft,
  type Sense,
} from '../observation/index.ts';
import { proofState, type DeviceState, type ProofState } from '../proof/index.ts';
import { concludeCase, type Conclusion } from './conclusion.ts';
import { describeOptionsFor } from '../prediction/index.ts';
import { nearCases, type AlikeCase, type NearCase, type Recalibration } from '../library/index.ts';
import { clipText, formatPercent } from '../quantity/index.ts';
import { sayLeftOut } from '../reasons/index.ts';
import { describeRun, type PatternProbability, type Segment, type Shape } from '../shape/index.ts';
import type { Marker, Summary, Trace } from '../trace/index.ts';
import { believe, type Belief, type Now } from './belief.ts';
import type { AssessOptions } from './history.ts';
import { unnamedPlaces, type UnnamedPlace } from './unnamed.ts';
import { byCircuit, explainCircuits, type CircuitProbability } from './circuits.ts';
import { contradictionsIn } from './contradictions.ts';
import { engineVersion } from './version.ts';
import settings from './belief.json';

const assessmentFormat = 'umbral-assessment/1';

interface AssessedRun {
  id: string;
  pattern: PatternProbability[];
  segments: Segment[];
  markers: Marker[];
  warnings: string[];
  summary: Summary;
}

/** What the engine says about a case: immutable, with the version of the engine that said it. */
export interface Assessment {
  format: typeof assessmentFormat;
  engine: string;
  runs: AssessedRun[];
  /** The cause of the complaint over the whole history. */
  circuits: CircuitProbability[];
  /** The device as it is after the last change. */
  now: { id: keyof Now; p: number }[];
  /** Where the proof of the last change stands; null before any change. */
  proof: ProofState | null;
  /** How the device is now, in words; left out in assessments of older engines. */
  state?: DeviceState;
  /** What is concluded; left out in assessments of older engines. */
  conclusion?: Conclusion;
  /** Places that nobody has named the circuit of; left out in assessments of older engines. */
  unnamed?: UnnamedPlace[];
  /** What the device must be like, where its model has no profile; null where it has one. */
  device: DevicesLeft | null;
  /** The nearest confirmed cases. Left out in assessments of older engines. */
  near?: NearCase[];
  /** The correction that the percentages went through; left out where there was none. */
  recalibration?: Recalibration;
  next: Suggestion[];
  /** How long until it is decided. */
  outlook: Outlook;
  warnings: string[];
}

/** What is seen in one run of a device; does not depend on anything else in the case. */
export function describe(
  value: Pick<Case, 'device'>,
  run: Case['runs'][number],
  trace: Trace,
  summary: Summary | null,
): Shape {
  return describeRun(trace, run.markers, { ...describeOptionsFor(value.device, run), summary: summary ?? undefined });
}

export type FullOptions = AssessOptions & {
  /** What the shop earns and does not do; the usual where left out. */
  shop?: ShopPolicy;
  /** Sentences by run id that came up while reading. */
  runWarnings?: ReadonlyMap<string, string[]>;
  warnings?: string[];
  /** Confirmed cases as they were held against this one, to be shown. */
  alike?: readonly AlikeCase[];
  /** False where nobody will ask what to do next, which takes most of the time. */
  plan?: boolean;
};

/**
 * Diagnoses a case from the shapes of its runs.
 *
 * @param shapes by run id; a run without a shape is left out
 */
export function assess(given: Case, shapes: ReadonlyMap<string, Shape>, options: FullOptions = {}): Assessment {
  return assessmentOf(believe(given, shapes, options), options);
}

const nothingPlanned: { next: Suggestion[]; outlook: Outlook } = { next: [], outlook: { minutes: 0, decided: 0 } };

/** What a belief amounts to: circuits with reasons, how the device is now, what to do next. */
export function assessmentOf(belief: Belief, options: FullOptions = {}): Assessment {
  const { value, seen } = belief.history;
  const { next, outlook } = options.plan === false ? nothingPlanned : planNext(belief, options.shop);
  const { state, conclusion } = concludeCase(belief, { next, outlook }, options.shop);
  return {
    format: assessmentFormat,
    engine: engineVersion,
    runs: seen.map(({ run, shape, patterns }) => ({
      id: run.id,
      pattern: patterns.filter((p) => p.p >= 0.001),
      segments: shape.segments,
      markers: shape.markers,
      warnings: [...(options.runWarnings?.get(run.id) ?? []), ...shape.warnings, ...shape.features.contradictions],
      summary: shape.summary,
    })),
    circuits: explainCircuits(belief).filter((c) => c.p >= 0.001),
    now: (Object.entries(belief.now) as [keyof Now, number][]).map(([id, p]) => ({ id, p })).sort((a, b) => b.p - a.p),
    proof: value.actions.length > 0 ? proofState(belief.history, options.shop?.functions) : null,
    state,
    conclusion,
    unnamed: unnamedPlaces(belief),
    device: devicesLeft(belief.history, byCircuit(belief)),
    ...(options.alike ? { near: nearCases(options.alike, belief.repeats) } : {}),
    ...(options.recalibration ? { recalibration: options.recalibration } : {}),
    next,
    outlook,
    warnings: [
      ...(options.warnings ?? []),
      ...hazards(value),
      ...contradictionsIn(belief.history),
      ...disagreements(belief),
      ...changeWarnings(belief),
      ...spontaneousWarnings(seen),
      ...(belief.byMemory
        ? ['The first suspect leads only because of past cases in this shop. Measure before acting on it.']
        : []),
      ...belief.leftOut.map((l) => `Not used: ${sayLeftOut(l)}.`),
      ...otherBoard(belief),
      ...notStarted(belief),
    ],
  };
}

const worthSaying = 0.04;

/** A profile that does not explain what was seen is perhaps another model's. */
function otherBoard({ history: { space } }: Belief): string[] {
  if (space.closeness !== 'own' || space.trust >= settings.doubtfulTrust) return [];
  const name = clipText(space.twin.board.profile.name);
  return [
    `The runs do not look like those of a “${name}”. This profile is ${formatPercent(space.trust)} likely to be the right one and counts that much less. Check the model.`,
  ];
}

/** Suspects that count but could not be started virtually, since the model's profile has nothing of the kind. */
function notStarted(belief: Belief): string[] {
  const { space } = belief.history;
  if (space.closeness !== 'own') return [];
  const { profile } = space.twin.board;
  const circuits = byCircuit(belief);
  return circuitsWithoutElement(profile)
    .filter((id) => circuits[circuitIds.indexOf(id)] >= worthSaying)
    .map(
      (id) =>
        `${circuitNames[id]}: the profile "${clipText(profile.name)}" does not include this part, so only the pattern was used.`,
    );
}

const wordOf = (sense: Sense): string | null => (sense.of === 'nothing' ? null : `${sense.of}:${sense.word}`);

/** Two readings of one point that say different things although nothing was changed between them. */
function disagreements({ history }: Belief): string[] {
  const { value, epochOf } = history;
  const changesBefore = (after: string | null): number =>
    value.actions.slice(0, epochOf(after)).filter((a) => !a.byItself).length;
  const last = new Map<string, { word: string; k: number }>();
  const out: string[] = [];
  value.readings.forEach((reading, k) => {
    const sense = senseOf(reading, value.device.expect);
    const word = wordOf(sense);
    if (word === null) return;
    const key = [
      changesBefore(reading.after),
      reading.circuit,
      placeName(reading.where),
      sense.of,
      reading.prompted,
      reading.feed,
    ].join(' ');
    const before = last.get(key);
    if (before && before.word !== word)
      out.push(
        `Two readings of ${clipText(reading.where)} disagree (${before.word.split(':')[1]}, then ${word.split(':')[1]}), and nothing was changed in between. Measure again at another point of the net and delete the wrong one. If both are right, the fault disappeared.`,
      );
    last.set(key, { word, k });
  });
  return out;
}

/** Changes without a run before or after, and plans that moved nothing. */
function changeWarnings({ history }: Belief): string[] {
  const { value, epochOf } = history;
  const out = value.actions.flatMap((action, k): string[] => {
    const isLast = k === value.actions.length - 1;
    const has = (list: readonly { after: string | null }[]): boolean => list.some((x) => epochOf(x.after) === k + 1);
    const seenAfter = has(value.runs) || has(value.readings) || has(value.checks) || has(value.injections);
    const what = clipText(action.target || (action.circuit ? circuitNames[action.circuit] : 'a part'));
    if (!seenAfter && isLast)
      return [`Nothing was recorded after the last change (${what}). Record a run now to see what it did.`];
    return [];
  });
  const { inVain } = stageOf(history);
  if (inVain >= settings.inVainFrom)
    out.push(`${inVain} repairs changed nothing, so the diagnosis is probably wrong. Measure before changing more.`);
  return out;
}

function hazards(value: Case): string[] {
  const out: string[] = [];
  const swollen = swollenPack(value);
  if (swollen === 'out')
    out.push('The swollen battery is out. Keep it in a fire-safe place, and fit another one only at the end.');
  else if (swollen === 'in')
    out.push('Swollen battery: stop. Move it to a fire-safe place. Do not charge it or press on it.');
  if (value.intake.dataWanted)
    out.push(
      'The customer needs the data. Get the device to run long enough to copy it. Nothing that rewrites or removes storage is proposed. Copy first.',
    );
  return out;
}
