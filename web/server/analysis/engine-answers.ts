import {
  assess,
  checkIds,
  checkTypes,
  courseLessons,
  drawLessonRun,
  drawUnit,
  fitRecalibration,
  parseFault,
  PracticeBench,
  seededRandom,
  stateAfter,
  gradeTypes,
  Library,
  lessonOf,
  likenessOf,
  shopJob,
  believe,
  planBoard,
  predictChange,
  predictedDraw,
  unpackCalls,
  valuedTests,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type CheckId,
  type LessonRun,
  type PatternId,
  type PracticeUnit,
  type UnitWish,
  type FullOptions,
  type Lesson,
  type LibraryQuestion,
  type PackedCalls,
  type Recalibration,
  type CircuitId,
  type PlannedChange,
  type SuspectDraw,
  type Profile,
  type Run,
  type Shape,
  type ShopJob,
  type ShopPolicy,
  type ValuedTest,
} from '@umbral/core';
import { LRUCache } from 'lru-cache';
import type { LibraryChange } from './known-library.ts';
import type { PracticeUnitRow } from '../record/tables.ts';
import { describeWithPreview } from './describe.ts';
import { startOf, type DeviceStart, type StartQuestion } from './start.ts';
import type { Samples } from './protocol.ts';
import type { Preview } from '../record/rows/run-rows.ts';
import { findWorlds } from './worlds.ts';

findWorlds();

/** A profile under a name that says which version it is, so that the thread finds again what it computed for it. */
export interface NamedProfile {
  key: string;
  profile: Profile;
}

/** A case with the shape of each of its runs. */
export interface Seen {
  value: Case;
  shapes: ReadonlyMap<string, Shape>;
}

export interface EngineOptions {
  /** That the library has a say, which of its cases do not, and how percentages are corrected. */
  library?: LibraryQuestion & { recalibration: Recalibration | null };
  shop?: ShopPolicy;
}

/** The confirmed cases that this thread was told of, and the revision up to which. */
const memory = { library: new Library(), revision: 0 };

/** What the library says of a case. */
function learnedOf({ value, shapes }: Seen, { library }: EngineOptions): FullOptions {
  if (!library) return {};
  return { ...memory.library.ask(value, shapes, library), recalibration: library.recalibration };
}

const known = new LRUCache<string, Profile>({ max: 40 });

/** The same object for the same version: what the engine computed for it is found again. */
function profilesOf(named: NamedProfile | null): Map<string, Profile> | undefined {
  if (!named) return undefined;
  const profile = known.get(named.key) ?? named.profile;
  known.set(named.key, profile);
  return new Map([[profile.id, profile]]);
}

/** Starts that were asked for: a list of models draws each of its own. */
const starts = new LRUCache<string, DeviceStart>({ max: 60 });

/** A unit to practise on, as it was drawn and after what was changed at it. */
export interface UnitAtHand extends Pick<PracticeUnitRow, 'device' | 'faults' | 'seed'> {
  actions: Case['actions'];
}

export type UnitDeed = 'record' | 'check' | 'probe' | 'feed';

const benchOf = ({ device, faults, seed, actions }: UnitAtHand): PracticeBench =>
  new PracticeBench(device, stateAfter(device, faults, actions), seed);

let patterns: { pattern: PatternId; run: LessonRun }[] | null = null;

/** Points of a silhouette in a card. */
const courseRuns = (): LessonRun[] =>
  courseLessons.flatMap((l) => [l.example, ...l.questions.flatMap((x) => ('run' in x ? [x.run] : []))]);

/** What the engine's thread answers. Arguments and results are what can be cloned to another thread. */
export const engineAnswers = {
  /** Up to which change of the library this thread knows its cases; 0 where it knows none. */
  libraryRevision: (): number => memory.revision,

  learn: ({ gone, cases, revision }: LibraryChange): void => {
    for (const id of gone) memory.library.forget(id);
    for (const one of cases) memory.library.put(one);
    memory.revision = revision;
  },

  fitCorrection: (calls: PackedCalls): Recalibration | null => fitRecalibration(unpackCalls(calls)),

  assess: (
    seen: Seen,
    profile: NamedProfile | null,
    { runWarnings, ...options }: EngineOptions & { runWarnings?: ReadonlyMap<string, string[]> },
  ): Assessment =>
    assess(seen.value, seen.shapes, {
      profiles: profilesOf(profile),
      shop: options.shop,
      runWarnings,
      ...learnedOf(seen, options),
    }),

  planBoard: (seen: Seen, profile: NamedProfile | null, options: EngineOptions): BoardPlan =>
    planBoard(seen.value, seen.shapes, {
      profiles: profilesOf(profile),
      shop: options.shop,
      ...learnedOf(seen, options),
    }),

  valuedTests: (seen: Seen, profile: NamedProfile | null, options: EngineOptions): ValuedTest[] =>
    valuedTests(seen.value, seen.shapes, {
      profiles: profilesOf(profile),
      shop: options.shop,
      ...learnedOf(seen, options),
    }),

  /** How alike the nearest cases of the library are to this one, 0 to 1, by their ids; those that can be held against it. */
  likeness: (seen: Seen, options: EngineOptions): [string, number][] => {
    if (!options.library) return [];
    const { alike } = memory.library.ask(seen.value, seen.shapes, options.library);
    return alike.flatMap(({ one, squared }) => (squared === null ? [] : [[one.id, likenessOf(squared)]]));
  },

  /** Made-up closed jobs from one number up to another, of so many. */
  madeJobs: (from: number, to: number, count: number): MadeJob[] =>
    Array.from({ length: to - from }, (_, k) => madeJob(from + k, count)),

  /** Calls of many cases without what to do next, each with what was confirmed before it. */
  callAll: (cases: readonly (Seen & { profile: NamedProfile | null; options: EngineOptions })[]): Assessment[] =>
    cases.map(({ profile, options, ...seen }) =>
      assess(seen.value, seen.shapes, {
        profiles: profilesOf(profile),
        shop: options.shop,
        ...learnedOf(seen, options),
        plan: false,
      }),
    ),

  lesson: ({ value, shapes }: Seen, profile: NamedProfile | null, circuit: CircuitId): Lesson =>
    lessonOf(value, shapes, circuit, { profiles: profilesOf(profile) }),

  predictChange: ({ value, shapes }: Seen, profile: NamedProfile | null, change: PlannedChange): ChangePrediction[] =>
    predictChange(believe(value, shapes, { profiles: profilesOf(profile) }), change),

  startDevice: ({ profile, key }: NamedProfile, question: StartQuestion): DeviceStart => {
    const asked = `${key} ${JSON.stringify(question)}`;
    const start = starts.get(asked) ?? startOf(profile, question);
    starts.set(asked, start);
    return start;
  },

  drawUnit: (order: Omit<UnitWish, 'fault'> & { fault: string | null }, seed: number): PracticeUnit =>
    drawUnit(
      { ...order, fault: order.fault === null ? null : parseFault(order.profile, order.fault) },
      seededRandom(seed),
    ),

  /** One thing that is done to a unit to practise on: what {@link PracticeBench} answers. */
  atUnit: <M extends UnitDeed>(unit: UnitAtHand, deed: M, ...given: Parameters<PracticeBench[M]>) => {
    const bench = benchOf(unit);
    return (bench[deed] as (...all: typeof given) => ReturnType<PracticeBench[M]>).apply(bench, given);
  },

  /** Checks that show something at a unit. */
  checksAtUnit: (unit: UnitAtHand): CheckId[] => {
    const bench = benchOf(unit);
    return checkIds.filter((id) => checkTypes[id].outcomes.length > 0 && bench.check(id) !== null);
  },

  /** The runs of the course, with the pattern that each shows. */
  lessonPatterns: (): { pattern: PatternId; run: LessonRun }[] =>
    (patterns ??= courseRuns().map((run) => ({ pattern: drawLessonRun(run).pattern, run }))),

  predictedDraws: (
    value: Case,
    run: Run,
    shape: Shape,
    circuits: CircuitId[],
    profile: NamedProfile | null,
  ): SuspectDraw[] => circuits.map((c) => predictedDraw(value, run, shape, c, profilesOf(profile))),
};

/** A made-up closed job with everything that is stored of it. */
export interface MadeJob {
  job: Omit<ShopJob, 'traces'>;
  samples: Map<string, Samples>;
  described: Map<string, { shape: Shape; preview: Preview }>;
  /** Null where its cause was not confirmed. */
  lesson: Lesson | null;
  /** The last call, after everything that was entered; null where nothing inside was touched. */
  last: Assessment | null;
}

function madeJob(k: number, count: number): MadeJob {
  const { traces, ...job } = shopJob(k, count);
  const { value } = job;
  const described = new Map(
    value.runs.flatMap((run) => {
      const trace = traces.get(run.id);
      return trace ? [[run.id, describeWithPreview(value.device, run, trace, null)]] : [];
    }),
  );
  const shapes = new Map([...described].map(([id, d]) => [id, d.shape]));
  const { outcome } = value;
  const isTouched = value.actions.length + value.readings.length > 0;
  const isConfirmed = outcome !== null && outcome.circuit !== null && gradeTypes[outcome.grade].isConfirmed;
  return {
    job,
    samples: new Map([...traces].map(([id, { t, v, i }]) => [id, { t, v, i }])),
    described,
    lesson: isConfirmed && outcome.circuit ? lessonOf(value, shapes, outcome.circuit) : null,
    last: isTouched ? assess({ ...value, outcome: null }, shapes, { plan: false }) : null,
  };
}

export type EngineAnswers = typeof engineAnswers;
