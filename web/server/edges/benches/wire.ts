import { randomUUID } from 'node:crypto';
import { db } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { eventStream } from '../../record/event-stream.ts';
import { jobNotices } from '../../record/listen.ts';

/** PostgreSQL takes 8000 bytes a notice. */
const maxBytes = 7600;

/**
 * Tells every process of this application something that lasts only a moment. Nothing waits for a disk.
 *
 * @returns whether it was small enough to be told
 */
export async function tellAll(channel: string, value: unknown): Promise<boolean> {
  const text = JSON.stringify(value);
  if (Buffer.byteLength(text) > maxBytes) return false;
  await db().raw("SELECT set_config('synchronous_commit', 'off', true), pg_notify(?, ?)", [channel, text]);
  return true;
}

/** What a bench is told to do. */
interface BenchCommand {
  bench: number;
  id: string | null;
  path: string;
  body: unknown;
}

interface BenchAnswer {
  id: string;
  status: number;
  value: { problem?: string };
}

const answerTimeoutMs = 10_000;

/**
 * Asks a bench to do something, through whichever process it is connected to.
 *
 * @throws {ExpectedError} with what it refuses, or that it does not answer
 */
export async function askBench<T>(bench: number, path: string, body: unknown): Promise<T> {
  const id = randomUUID();
  let deaf = (): void => undefined;
  let timer: NodeJS.Timeout | undefined;
  const answer = new Promise<BenchAnswer | null>((resolve) => {
    deaf = jobNotices().hear('umbral_answer', (payload) => {
      if (!payload.includes(id)) return;
      resolve(JSON.parse(payload) as BenchAnswer);
    });
    timer = setTimeout(() => resolve(null), answerTimeoutMs);
  });
  try {
    await jobNotices().ready();
    const command: BenchCommand = { bench, id, path, body };
    if (!(await tellAll('umbral_command', command)))
      throw new ExpectedError('input', 'Too many requests for one bench.');
    const found = await answer;
    if (!found) throw new ExpectedError('missing', 'The bench does not answer. Its outputs switch off automatically.');
    if (found.status !== 200)
      throw new ExpectedError('input', found.value.problem ?? `The bench answered ${found.status}.`);
    return found.value as T;
  } finally {
    clearTimeout(timer);
    deaf();
  }
}

/** Tells a bench something that nobody waits for. */
export async function tellBench(bench: number, path: string, body: unknown): Promise<void> {
  await tellAll('umbral_command', { bench, id: null, path, body } satisfies BenchCommand);
}

const beatMs = 2000;

/** What a bench is to do, as a stream of events, for as long as it listens. */
export function commandStream(bench: number, signal: AbortSignal): ReadableStream<Uint8Array> {
  return eventStream(signal, beatMs, (writer) => {
    const deaf = jobNotices().hear('umbral_command', (payload) => {
      if (payload === '') return;
      const command = JSON.parse(payload) as BenchCommand;
      if (command.bench !== bench) return;
      writer.write(`data: ${JSON.stringify({ id: command.id, path: command.path, body: command.body })}\n\n`);
    });
    writer.atEnd(deaf);
    writer.write(': here\n\n');
  });
}
