import { Worker } from 'node:worker_threads';
import {
  engineVersion,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type CheckId,
  type CircuitId,
  type Lesson,
  type PackedCalls,
  type PlannedChange,
  type PracticeBench,
  type PracticeUnit,
  type Profile,
  type Recalibration,
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
  type MadeJob,
  type NamedProfile,
  type UnitAtHand,
  type UnitDeed,
} from './engine-answers.ts';
import type { LibraryChange } from './known-library.ts';
import { asTold, withLibrary, type AskOptions } from './telling.ts';
import type { DeviceStart, StartQuestion } from './start.ts';
import { Ending } from './ending.ts';

interface EngineThread {
  /** Of the engine that runs on it: in development the sources change under it. */
  version: string;
  worker: Worker;
  answers: Remote<EngineAnswers>;
  /** Rejects when the thread ends. */
  ending: Ending;
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
  const ending = new Ending();
  const end = (error: Error): void => {
    if (globalThis.umbralEngine === made) globalThis.umbralEngine = undefined;
    ending.end(error);
  };
  worker.on('error', (error) => end(error instanceof Error ? error : new Error(String(error))));
  worker.on('exit', () => end(new Error('the thread of the engine ended')));
  const answers = wrap<EngineAnswers>(nodeEndpoint(worker));
  worker.unref();
  const made: EngineThread = { version: engineVersion, worker, answers, ending, asked: 0 };
  return (globalThis.umbralEngine = made);
}

type Answers = Pick<Remote<EngineAnswers>, keyof EngineAnswers>;

async function ask<T>(question: (answers: Answers | EngineAnswers) => Promise<T> | T): Promise<T> {
  // Unit tests have no bundled threads.
  if (process.env.UMBRAL_ENGINE === 'here') return question(engineAnswers);
  const thread = engineThread();
  if (thread.asked++ === 0) thread.worker.ref();
  try {
    return await thread.ending.beside(Promise.resolve(question(thread.answers)));
  } finally {
    if (--thread.asked === 0) thread.worker.unref();
  }
}

/** A profile with the version that a job uses. */
export interface UsedProfile {
  profile: Profile;
  /** Some text for one that is not kept. */
  version: number | string;
}

const namedAs = ({ profile, version }: UsedProfile): NamedProfile => ({ key: `${profile.id}@${version}`, profile });
const named = (used: UsedProfile | null): NamedProfile | null => used && namedAs(used);

/**
 * Diagnoses a case with the profile in the version that its job uses.
 *
 * @throws {Error} where the engine fails, or its thread ends before it answers
 */
export function assess(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  options: AssessOptions = {},
): Promise<Assessment> {
  return ask((engine) => assessOn(engine, value, shapes, used, options));
}

type AssessOptions = AskOptions & { runWarnings?: ReadonlyMap<string, string[]> };

async function assessOn(
  engine: Answers | EngineAnswers,
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  { runWarnings, ...options }: AssessOptions,
): Promise<Assessment> {
  return engine.assess({ value, shapes }, named(used), { ...(await withLibrary(engine, options)), runWarnings });
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
 * Calls of many cases at once, without what to do next. Throws as {@link assess}.
 *
 * @returns in the order of the cases
 */
export const callAll = (cases: readonly AskedCase[]): Promise<Assessment[]> => ask((engine) => callWith(engine, cases));

/** A correction of percentages from calls that were confirmed. Throws as {@link assess}. */
export const fitCorrection = (calls: PackedCalls): Promise<Recalibration | null> =>
  ask((engine) => engine.fitCorrection(calls));

/** An engine beside the one that everybody's verdicts wait for. */
export interface OwnEngine {
  /** Made-up closed jobs from one number up to another, of so many. */
  madeJobs: (from: number, to: number, count: number) => Promise<MadeJob[]>;
  /** Tells this thread of confirmed cases. */
  learn: (change: LibraryChange) => Promise<void>;
  assess: typeof assess;
  /** As {@link callAll}, on this thread. */
  callAll: (cases: readonly AskedCase[]) => Promise<Assessment[]>;
  /** As {@link fitCorrection}, on this thread. */
  fitCorrection: (calls: PackedCalls) => Promise<Recalibration | null>;
}

/** Long work on a thread of its own, which ends with it. Throws as {@link assess}. */
export async function withOwnEngine<T>(work: (engine: OwnEngine) => Promise<T>): Promise<T> {
  const on = (answers: Answers | EngineAnswers, ending: Ending | null): OwnEngine => {
    const beside = <A>(answer: Promise<A>): Promise<A> => (ending ? ending.beside(answer) : answer);
    return {
      madeJobs: (from, to, count) => beside(Promise.resolve(answers.madeJobs(from, to, count))),
      learn: (change) => beside(Promise.resolve(answers.learn(change))),
      assess: (value, shapes, used, options = {}) => beside(assessOn(answers, value, shapes, used, asTold(options))),
      callAll: (cases) =>
        beside(
          callWith(
            answers,
            cases.map((c) => ({ ...c, options: asTold(c.options) })),
          ),
        ),
      fitCorrection: (calls) => beside(Promise.resolve(answers.fitCorrection(calls))),
    };
  };
  if (process.env.UMBRAL_ENGINE === 'here') return work(on(engineAnswers, null));
  const beside = new Worker(new URL('./engine.worker.ts', import.meta.url));
  const ending = new Ending();
  beside.on('error', (error) => ending.end(error instanceof Error ? error : new Error(String(error))));
  beside.on('exit', () => ending.end(new Error('the thread of the engine ended')));
  try {
    return await work(on(wrap<EngineAnswers>(nodeEndpoint(beside)), ending));
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

/** Starts a device virtually, with a fault and without. Throws as {@link assess}, and a RangeError for a fault that it cannot have. */
export function startDevice(used: UsedProfile, question: StartQuestion): Promise<DeviceStart> {
  return refusing(() => ask((engine) => engine.startDevice(namedAs(used), question)));
}

/** Draws a unit to practise on. Throws as {@link assess}, and a RangeError for a wish that cannot be had. */
export function drawUnit(...wish: Parameters<EngineAnswers['drawUnit']>): Promise<PracticeUnit> {
  return refusing(() => ask((engine) => engine.drawUnit(...wish)));
}

/** Does one thing to a unit to practise on. Throws as {@link assess}, and a RangeError for what this device does not allow. */
export function atUnit<M extends UnitDeed>(
  unit: UnitAtHand,
  deed: M,
  ...given: Parameters<PracticeBench[M]>
): Promise<ReturnType<PracticeBench[M]>> {
  return refusing(() => ask((engine) => (engine.atUnit as EngineAnswers['atUnit'])(unit, deed, ...given)));
}

/** Checks that show something at a unit. Throws as {@link assess}. */
export const checksAtUnit = (unit: UnitAtHand): Promise<CheckId[]> => ask((engine) => engine.checksAtUnit(unit));

/** What the runs of the course look like. Throws as {@link assess}. */
export const lessonPatterns = (): Promise<ReturnType<EngineAnswers['lessonPatterns']>> =>
  ask((engine) => engine.lessonPatterns());

/** A class of errors does not come over from another thread; what the twin refuses is told by its name. */
async function refusing<T>(question: () => Promise<T>): Promise<T> {
  try {
    return await question();
  } catch (error) {
    if (error instanceof Error && error.name === 'RangeError') throw new RangeError(error.message);
    throw error;
  }
}
