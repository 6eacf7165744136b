import { Worker } from 'node:worker_threads';
import {
  engineVersion,
  type Assessment,
  type BoardPlan,
  type Case,
  type ChangePrediction,
  type CircuitId,
  type PlannedChange,
  type Profile,
  type Run,
  type Shape,
  type SuspectDraw,
} from '@umbral/core';
import { wrap, type Remote } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { engineAnswers, type EngineAnswers, type EngineOptions, type NamedProfile } from './engine-answers.ts';

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
  options: EngineOptions & { runWarnings?: ReadonlyMap<string, string[]> } = {},
): Promise<Assessment> {
  return ask((engine) => engine.assess({ value, shapes }, named(used), options));
}

/** What to do at the opened device, with what is known of its rails. Throws as {@link assess}. */
export function planBoard(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  used: UsedProfile | null,
  options: EngineOptions = {},
): Promise<BoardPlan> {
  return ask((engine) => engine.planBoard({ value, shapes }, named(used), options));
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
