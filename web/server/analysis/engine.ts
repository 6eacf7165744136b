import { Worker } from 'node:worker_threads';
import {
  engineVersion,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type CircuitId,
  type Lesson,
  type LibraryQuestion,
  type PlannedChange,
  type Profile,
  type Run,
  type Shape,
  type SuspectDraw,
  type ValuedTest,
} from '@umbral/core';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import {
  engineAnswers,
  type EngineAnswers,
  type EngineOptions,
  type MadeJob,
  type NamedProfile,
  type SentLibrary,
} from './engine-answers.ts';

interface EngineThread {
  /** Of the engine that runs on it: in development the sources change under it. */
  version: string;
  worker: Worker;
  answers: Remote<EngineAnswers>;
  /** Rejects when the thread ends. */
  lost: Promise<never>;
  asked: number;
}

declare global {
  var umbralEngine: EngineThread | undefined;
}

/**
 * One thread that keeps what it has computed of each profile: starting a profile's hundreds of faults takes up to a
 * second the first time and milliseconds after that, and never on the thread that answers browsers.
 */
function engineThread(): EngineThread {
  const running = globalThis.umbralEngine;
  if (running?.version === engineVersion) return running;
  if (running && running.asked === 0) void running.worker.terminate();
  // What it keeps is bounded; the limit makes the thread collect its garbage before it grows.
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url), {
    resourceLimits: { maxOldGenerationSizeMb: 192 },
  });
  const lost = new Promise<never>((_, reject) => {
    const end = (error: Error): void => {
      if (globalThis.umbralEngine === made) globalThis.umbralEngine = undefined;
      reject(error);
    };
    worker.on('error', (error) => end(error instanceof Error ? error : new Error(String(error))));
    worker.on('exit', () => end(new Error('the thread of the engine ended')));
  });
  // Nobody may be asking when it ends.
  lost.catch(() => undefined);
  const answers = wrap<EngineAnswers>(nodeEndpoint(worker));
  worker.unref();
  const made: EngineThread = { version: engineVersion, worker, answers, lost, asked: 0 };
  return (globalThis.umbralEngine = made);
}

type Answers = Pick<Remote<EngineAnswers>, keyof EngineAnswers>;

async function ask<T>(question: (answers: Answers | EngineAnswers) => Promise<T> | T): Promise<T> {
  // Unit tests have no bundled threads.
  if (process.env.UMBRAL_ENGINE === 'here') return question(engineAnswers);
  const thread = engineThread();
  if (thread.asked++ === 0) thread.worker.ref();
  try {
    return await Promise.race([question(thread.answers), thread.lost]);
  } finally {
    if (--thread.asked === 0) thread.worker.unref();
  }
}

/** A profile with the version that a job uses. */
export interface UsedProfile {
  profile: Profile;
  version: number;
}

/** What is asked with a case beside its profile. */
export interface AskOptions extends Pick<EngineOptions, 'shop'> {
  /** The library that has a say, and which of its cases do not. */
  library?: LibraryQuestion & { known: SentLibrary };
}

/** Sends the library where the engine has not got it yet. */
async function withLibrary(engine: Answers | EngineAnswers, { library, shop }: AskOptions): Promise<EngineOptions> {
  if (!library) return { shop };
  const { known, without, before } = library;
  if (!(await engine.hasLibrary(known.version))) await engine.useLibrary(known);
  return { shop, library: { version: known.version, without, before } };
}

const named = (used: UsedProfile | null): NamedProfile | null =>
  used ? { key: `${used.profile.id}@${used.version}`, profile: used.profile } : null;

/**
 * Diagnoses a case with the profile in the version that its job uses.
 *
 * @throws {Error} where the engine fails, or its thread ends before it answers
 */
export function assess(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  { runWarnings, ...options }: AskOptions & { runWarnings?: ReadonlyMap<string, string[]> } = {},
): Promise<Assessment> {
  return ask(async (engine) =>
    engine.assess({ value, shapes }, named(used), { ...(await withLibrary(engine, options)), runWarnings }),
  );
}

/** What to do at the opened device, with what is known of its rails. Throws as {@link assess}. */
export function planBoard(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  options: AskOptions = {},
): Promise<BoardPlan> {
  return ask(async (engine) => engine.planBoard({ value, shapes }, named(used), await withLibrary(engine, options)));
}

/** Every test that can be named next, with what it is worth. Throws as {@link assess}. */
export function valuedTests(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  options: AskOptions = {},
): Promise<ValuedTest[]> {
  return ask(async (engine) => engine.valuedTests({ value, shapes }, named(used), await withLibrary(engine, options)));
}

/** Cases for {@link callAll}, with what is asked of each. */
export interface AskedCase {
  value: Case;
  shapes: ReadonlyMap<string, Shape>;
  used: UsedProfile | null;
  options: AskOptions;
}

async function callWith(engine: Answers | EngineAnswers, cases: readonly AskedCase[]): Promise<Assessment[]> {
  const asked = [];
  for (const { value, shapes, used, options } of cases)
    asked.push({ value, shapes, profile: named(used), options: await withLibrary(engine, options) });
  return engine.callAll(asked);
}

/**
 * Calls of many cases at once, without what to do next, on two threads where there are many. Throws as {@link assess}.
 *
 * @returns in the order of the cases
 */
export async function callAll(cases: readonly AskedCase[]): Promise<Assessment[]> {
  if (cases.length < manyCalls) return ask((engine) => callWith(engine, cases));
  const half = Math.floor(cases.length / 2);
  return onTwoThreads(
    (engine) => callWith(engine, cases.slice(0, half)),
    (engine) => callWith(engine, cases.slice(half)),
  );
}

/** From so many calls on a second thread is begun. */
const manyCalls = 60;

/** Made-up closed jobs of a year, in the order of their numbers. */
export async function madeYear(count: number): Promise<MadeJob[]> {
  const half = Math.floor(count / 2);
  return onTwoThreads(
    (engine) => engine.madeJobs(0, half, count),
    (engine) => engine.madeJobs(half, count, count),
  );
}

/** Work that is long enough for a second thread, which ends with it. */
async function onTwoThreads<T>(
  first: (engine: Answers | EngineAnswers) => Promise<T[]> | T[],
  second: (engine: Answers | EngineAnswers) => Promise<T[]> | T[],
): Promise<T[]> {
  if (process.env.UMBRAL_ENGINE === 'here') return [...(await first(engineAnswers)), ...(await second(engineAnswers))];
  const beside = new Worker(new URL('./engine.worker.ts', import.meta.url));
  try {
    const answers = wrap<EngineAnswers>(nodeEndpoint(beside));
    return (await Promise.all([ask(first), Promise.resolve(second(answers))])).flat();
  } finally {
    await beside.terminate();
  }
}

/** How alike every case of a library is to this one, 0 to 1, by its id. Throws as {@link assess}. */
export function likeness(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  library: NonNullable<AskOptions['library']>,
): Promise<[string, number][]> {
  return ask(async (engine) => engine.likeness({ value, shapes }, await withLibrary(engine, { library })));
}

/** What a case teaches whose circuit was confirmed. Throws as {@link assess}. */
export function lesson(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  circuit: CircuitId,
): Promise<Lesson> {
  return ask((engine) => engine.lesson({ value, shapes }, named(used), circuit));
}

/** What each leading suspect expects of the run after a change. Throws as {@link assess}. */
export function predictChange(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  change: PlannedChange,
): Promise<ChangePrediction[]> {
  return ask((engine) => engine.predictChange({ value, shapes }, named(used), change));
}

/** What each of the circuits' best explanations would have drawn in this run. Throws as {@link assess}. */
export function predictedDraws(
  value: Case,
  run: Run,
  shape: Shape,
  circuits: CircuitId[],
  used: UsedProfile | null,
): Promise<SuspectDraw[]> {
  return ask((engine) => engine.predictedDraws(value, run, shape, circuits, named(used)));
}
