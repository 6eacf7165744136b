import { Worker } from 'node:worker_threads';
import { FormatError, traceOf } from '@umbral/core';
import { ExpectedError } from '../record/errors.ts';
import { describeWithPreview } from './describe.ts';
import type { Described, FromWorker, Samples, Task, ToWorker } from './protocol.ts';

declare global {
  var umbralIdleWorkers: Worker[] | undefined;
}

const maxIdle = 2;
/** Up to this many samples are described on the spot; more go to a thread. */
const inlineSamples = 20_000;

/** The reader is not sure of the columns; carries what a person needs to say. */
export class UnsureLog extends Error {
  readonly header: string[] | null;
  readonly sample: string[][];

  constructor(problem: string, header: string[] | null, sample: string[][]) {
    super(problem);
    this.header = header;
    this.sample = sample;
  }
}

function takeWorker(): Worker {
  const idle = (globalThis.umbralIdleWorkers ??= []);
  return idle.pop() ?? new Worker(new URL('./analysis.worker.ts', import.meta.url));
}

function giveBack(worker: Worker): void {
  const idle = (globalThis.umbralIdleWorkers ??= []);
  if (idle.length >= maxIdle) void worker.terminate();
  else {
    worker.unref();
    idle.push(worker);
  }
}

const cancelled = (): ExpectedError => new ExpectedError('input', 'The analysis was cancelled. Nothing was saved.');

/** One task on one thread, message by message. */
class Session {
  private readonly worker = takeWorker();
  private readonly queue: FromWorker[] = [];
  private wake: (() => void) | null = null;
  private broken: Error | null = null;
  /** The thread refused what it was given, in words, and is as good as before. */
  private isRefused = false;
  private readonly signal: AbortSignal | undefined;

  constructor(task: Task, signal?: AbortSignal) {
    this.signal = signal;
    this.worker.ref();
    this.worker.on('message', this.onMessage);
    this.worker.on('error', this.onError);
    this.worker.on('exit', this.onExit);
    signal?.addEventListener('abort', this.onAbort);
    if (signal?.aborted) this.onAbort();
    this.send({ type: 'task', task });
  }

  private readonly onMessage = (message: FromWorker): void => {
    if (message.type === 'ready') return;
    this.queue.push(message);
    this.wake?.();
  };

  private readonly onError = (error: unknown): void =>
    this.breakOff(error instanceof Error ? error : new Error(String(error)));

  private readonly onExit = (): void => this.breakOff(new Error('the analysis thread ended'));

  private readonly onAbort = (): void => this.breakOff(cancelled());

  private breakOff(error: Error): void {
    this.broken ??= error;
    this.wake?.();
  }

  send(message: ToWorker, transfer: ArrayBuffer[] = []): void {
    this.worker.postMessage(message, transfer);
  }

  async next(): Promise<FromWorker> {
    while (this.queue.length === 0) {
      if (this.broken) throw this.broken;
      await new Promise<void>((resolve) => {
        this.wake = resolve;
      });
      this.wake = null;
    }
    const message = this.queue.shift()!;
    this.isRefused = message.type === 'unsure' || message.type === 'refused';
    if (message.type === 'unsure') throw new UnsureLog(message.problem, message.header, message.sample);
    if (message.type === 'refused') throw new FormatError(message.file, message.place, message.problem);
    if (message.type === 'crashed') throw new Error(message.message);
    return message;
  }

  close(clean: boolean): void {
    this.signal?.removeEventListener('abort', this.onAbort);
    this.worker.off('message', this.onMessage);
    this.worker.off('error', this.onError);
    this.worker.off('exit', this.onExit);
    if ((clean || this.isRefused) && !this.broken) giveBack(this.worker);
    else void this.worker.terminate();
  }
}

/**
 * Reads a log on a thread of its own, block by block; the samples are handed on as they come, so that memory does not
 * grow with the file. Aborting the signal ends the thread.
 *
 * @param onRows awaited before more of the file is read
 */
export async function readLogOnThread(
  task: Extract<Task, { kind: 'log' }>,
  source: AsyncIterable<Uint8Array>,
  onRows: (samples: Samples) => Promise<void>,
  signal?: AbortSignal,
): Promise<Described> {
  const session = new Session(task, signal);
  let clean = false;
  try {
    for await (const bytes of source) {
      const own = bytes.slice();
      session.send({ type: 'bytes', bytes: own }, [own.buffer]);
      for (let m = await session.next(); m.type !== 'taken'; m = await session.next())
        if (m.type === 'rows') await onRows(m.samples);
    }
    session.send({ type: 'end' });
    for (;;) {
      const message = await session.next();
      if (message.type === 'rows') await onRows(message.samples);
      else if (message.type === 'done') {
        clean = true;
        return message.result;
      }
    }
  } finally {
    session.close(clean);
  }
}

/**
 * Describes samples that are already there: at once for short runs, on a thread for long ones.
 *
 * @throws {Error} where the thread answers with something else, or fails
 */
export async function describeSamples(
  task: Extract<Task, { kind: 'describe' }>,
  signal?: AbortSignal,
): Promise<Described> {
  const { run, device, samples, summary, limitSpans } = task;
  if (samples.t.length <= inlineSamples) {
    const described = describeWithPreview(device, run, traceOf(run, samples, limitSpans), summary);
    return { run, ...described, repairs: [], warnings: [], startedAt: null };
  }
  const session = new Session(task, signal);
  let clean = false;
  try {
    const message = await session.next();
    if (message.type !== 'done') throw new Error(`unexpected answer ${message.type}`);
    clean = true;
    return message.result;
  } finally {
    session.close(clean);
  }
}
