import {
  assess,
  gradeTypes,
  Library,
  lessonOf,
  likenessOf,
  shopJob,
  believe,
  planBoard,
  predictChange,
  predictedDraw,
  valuedTests,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type FullOptions,
  type Lesson,
  type LibraryCase,
  type LibraryQuestion,
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
import { describeWithPreview } from './describe.ts';
import type { Preview, Samples } from './protocol.ts';
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

/** What the shop has learned, under a name that moves with it. */
export interface SentLibrary {
  version: string;
  cases: LibraryCase[];
  recalibration: Recalibration | null;
}

export interface EngineOptions {
  /** Which library has a say, and which of its cases do not. */
  library?: LibraryQuestion & { version: string };
  shop?: ShopPolicy;
}

/** The library in the version it was sent in, and the one before, which somebody may still ask. */
const libraries = new LRUCache<string, { library: Library; recalibration: Recalibration | null }>({ max: 2 });

/** What the library says of a case; nothing where it was not sent. */
function learnedOf({ value, shapes }: Seen, { library }: EngineOptions): FullOptions {
  const known = library && libraries.get(library.version);
  if (!known) return {};
  return { ...known.library.ask(value, shapes, library), recalibration: known.recalibration };
}

const known = new LRUCache<string, Profile>({ max: 40 });

/** The same object for the same version: what the engine computed for it is found again. */
function profilesOf(named: NamedProfile | null): Map<string, Profile> | undefined {
  if (!named) return undefined;
  const profile = known.get(named.key) ?? named.profile;
  known.set(named.key, profile);
  return new Map([[profile.id, profile]]);
}

/** What the engine's thread answers. Arguments and results are what can be cloned to another thread. */
export const engineAnswers = {
  /** Whether a library is here already. */
  hasLibrary: (version: string): boolean => libraries.has(version),

  useLibrary: ({ version, cases, recalibration }: SentLibrary): void => {
    libraries.set(version, { library: new Library(cases), recalibration });
  },

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

  /** How alike every case of the library is to this one, 0 to 1, by its id; those that can be held against it. */
  likeness: (seen: Seen, options: EngineOptions): [string, number][] => {
    const known = options.library && libraries.get(options.library.version);
    if (!known || !options.library) return [];
    const { alike } = known.library.ask(seen.value, seen.shapes, options.library);
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
