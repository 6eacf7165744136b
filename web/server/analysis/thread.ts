import type { Worker } from 'node:worker_threads';
import { wrap } from 'comlink';
import nodeEndpoint from 'comlink/dist/umd/node-adapter';
import { ExpectedError } from '../record/errors.ts';
import { Ending } from './ending.ts';

/** What may wait for one thread before others are asked to come again. */
const maxWaiting = 20;

/** How long one piece of work may take before its thread is ended, where nothing else is said. */
const usualLimitMs = 15_000;

type Answers<A> = {
  [K in keyof A]: A[K] extends (...of: infer I) => infer O ? (...of: I) => Promise<Awaited<O>> : never;
};

interface Running<A> {
  worker: Worker;
  answers: Answers<A>;
  ending: Ending;
}

/**
 * A thread for work that would hold up everybody else's pages: started when it is first needed, one piece at a time, and
 * ended where a piece takes too long.
 *
 * @param make starts the thread, which exposes `answers` by comlink
 * @param answers the same, for unit tests, which have no bundled threads
 * @param what the work is, for the message; "Reading a profile"
 * @param limitMs how long one piece of it may take
 */
export function threadFor<A extends object>(make: () => Worker, answers: A, what: string, limitMs = usualLimitMs) {
  let running: Running<A> | null = null;
  let turn: Promise<unknown> = Promise.resolve();
  let waiting = 0;

  const start = (): Running<A> => {
    const worker = make();
    const ending = new Ending();
    const end = (error: Error): void => {
      if (running === made) running = null;
      ending.end(error);
    };
    worker.once('error', (error) => end(error instanceof Error ? error : new Error(String(error))));
    worker.once('exit', () => end(new Error(`the thread ended: ${what}`)));
    worker.unref();
    const made = { worker, answers: wrap(nodeEndpoint(worker)) as unknown as Answers<A>, ending };
    return made;
  };

  const work = async <T>(question: (answers: Answers<A>) => Promise<T>): Promise<T> => {
    const { worker, answers: theirs, ending } = (running ??= start());
    const timer = setTimeout(() => {
      running = null;
      ending.end(new ExpectedError('input', `${what} takes longer than ${limitMs / 1000} s and was stopped.`));
      void worker.terminate();
    }, limitMs);
    try {
      return await ending.beside(question(theirs));
    } finally {
      clearTimeout(timer);
    }
  };

  /** @throws {ExpectedError} for work that takes too long, or where too much waits already */
  return async <T>(question: (answers: Answers<A>) => Promise<T>): Promise<T> => {
    if (process.env.UMBRAL_ENGINE === 'here') return question(answers as unknown as Answers<A>);
    if (waiting >= maxWaiting)
      throw new ExpectedError('busy', `${what}: too many requests are waiting. Try again in a moment.`);
    waiting++;
    const mine = turn.then(() => work(question));
    turn = mine.catch(() => undefined);
    return mine.finally(() => waiting--);
  };
}
