import { Worker } from 'node:worker_threads';
import type {
  Assessment,
  BoardPlan,
  Case,
  ChangePrediction,
  CircuitId,
  ConfirmedCounts,
  PlannedChange,
  Profile,
  Run,
  Shape,
  ShopPolicy,
  SuspectDraw,
} from '@umbral/core';
import { answerTo, type NamedProfile, type Question, type Thought } from './thought.ts';

interface Asked {
  resolve: (thought: Thought) => void;
  reject: (error: Error) => void;
}

interface Thinker {
  worker: Worker;
  asked: Map<number, Asked>;
  next: number;
}

declare global {
  var umbralThinker: Thinker | undefined;
}

/**
 * One thread that keeps what it has computed of each profile: starting a profile's hundreds of faults takes up to a
 * second the first time and milliseconds after that, and never on the thread that answers browsers.
 */
function thinker(): Thinker {
  if (globalThis.umbralThinker) return globalThis.umbralThinker;
  // What it keeps is bounded; the limit makes the thread collect its garbage before it grows.
  const worker = new Worker(new URL('./think.worker.ts', import.meta.url), {
    resourceLimits: { maxOldGenerationSizeMb: 192 },
  });
  const made: Thinker = { worker, asked: new Map(), next: 1 };
  worker.unref();
  worker.on('message', ({ id, thought, problem }: { id: number; thought?: Thought; problem?: string }) => {
    const asked = made.asked.get(id);
    made.asked.delete(id);
    if (thought) asked?.resolve(thought);
    else asked?.reject(new Error(problem ?? 'the thinking thread gave no answer'));
    if (made.asked.size === 0) worker.unref();
  });
  const lost = (error: Error): void => {
    if (globalThis.umbralThinker === made) globalThis.umbralThinker = undefined;
    for (const asked of made.asked.values()) asked.reject(error);
    made.asked.clear();
  };
  worker.on('error', (error) => lost(error instanceof Error ? error : new Error(String(error))));
  worker.on('exit', () => lost(new Error('the thinking thread ended')));
  return (globalThis.umbralThinker = made);
}

function ask(question: Question): Promise<Thought> {
  // Unit tests have no bundled threads.
  if (process.env.UMBRAL_THINK === 'here') return Promise.resolve(answerTo(question));
  return new Promise((resolve, reject) => {
    const made = thinker();
    const id = made.next++;
    made.asked.set(id, { resolve, reject });
    made.worker.ref();
    made.worker.postMessage({ id, question });
  });
}

interface Known {
  profile: Profile;
  version: number;
}

const named = (known: Known | null): NamedProfile | null =>
  known ? { key: `${known.profile.id}@${known.version}`, profile: known.profile } : null;

/** Diagnoses a case with the profile in the version that its job uses. */
export async function assess(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  known: Known | null,
  options: { runWarnings?: ReadonlyMap<string, string[]>; confirmed?: ConfirmedCounts; shop?: ShopPolicy } = {},
): Promise<Assessment> {
  const thought = await ask({ kind: 'assess', value, shapes, profile: named(known), ...options });
  if (thought.kind !== 'assess') throw new Error('another answer than asked for');
  return thought.result;
}

/** What to do at the opened device, with what is known of its rails. */
export async function planBoard(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  known: Known | null,
  options: { confirmed?: ConfirmedCounts; shop?: ShopPolicy } = {},
): Promise<BoardPlan> {
  const thought = await ask({ kind: 'board', value, shapes, profile: named(known), ...options });
  if (thought.kind !== 'board') throw new Error('another answer than asked for');
  return thought.result;
}

/** What each leading suspect expects of the run after a change. */
export async function predictChange(
  value: Case,
  shapes: ReadonlyMap<string, Shape>,
  known: Known | null,
  change: PlannedChange,
): Promise<ChangePrediction[]> {
  const thought = await ask({ kind: 'change', value, shapes, profile: named(known), change });
  if (thought.kind !== 'change') throw new Error('another answer than asked for');
  return thought.result;
}

/** What each of the circuits' best explanations would have drawn in this run. */
export async function predictedDraws(
  value: Case,
  run: Run,
  shape: Shape,
  circuits: CircuitId[],
  known: Known | null,
): Promise<SuspectDraw[]> {
  const thought = await ask({ kind: 'draws', value, run, shape, circuits, profile: named(known) });
  if (thought.kind !== 'draws') throw new Error('another answer than asked for');
  return thought.result;
}
