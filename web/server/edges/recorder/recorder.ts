import { rememberOrder } from '../benches/believed.ts';
import { benchOfInstrument, knownBenches } from '../benches/benches.ts';
import { askBench, tellBench } from '../benches/wire.ts';
import { ExpectedError } from '../../record/errors.ts';

/** Which process answers: the recorder, or the hands on the simulated bench. */
export type Process = 'recorder' | 'operator';

const urls: Record<Process, string | undefined> = {
  recorder: process.env.UMBRAL_RECORDER_URL,
  operator: process.env.UMBRAL_OPERATOR_URL,
};

function urlOf(of: Process): string {
  const url = urls[of];
  if (url) return url;
  throw new ExpectedError(
    'missing',
    of === 'recorder' && process.env.UMBRAL_PAGES_ONLY === 'yes'
      ? 'This computer shows the pages only. Instruments are used at the address of the one that controls them.'
      : of === 'recorder'
        ? 'No recorder is running. Start with "npm run demo" or "npm start".'
        : 'There is no simulated bench.',
  );
}

const headers = (): Record<string, string> => ({ authorization: `Bearer ${process.env.UMBRAL_RECORDER_TOKEN ?? ''}` });

/** The bench that a request is for: that of the instrument which it names; null for the recorder beside the database. */
async function benchFor(path: string, body: unknown): Promise<number | null> {
  const { instrument } = (body ?? {}) as { instrument?: unknown };
  return path.startsWith('/') && typeof instrument === 'string' ? benchOfInstrument(instrument) : null;
}

/**
 * Asks the recorder that has the instrument which is named, or the one beside the database, or the simulated bench.
 *
 * @throws {ExpectedError} with what it refuses, or that it does not answer
 */
export async function ask<T>(of: Process, path: string, body?: unknown): Promise<T> {
  const bench = of === 'recorder' ? await benchFor(path, body) : null;
  if (bench !== null) {
    await rememberOrder(bench, body);
    return askBench<T>(bench, `POST ${path}`, body);
  }
  return askHere<T>(of, path, body);
}

/** Asks the recorder of a bench; null for the one beside the database. */
export function askAt<T>(benchId: number | null, path: string, body: unknown): Promise<T> {
  return benchId === null ? askHere<T>('recorder', path, body) : askBench<T>(benchId, `POST ${path}`, body);
}

async function askHere<T>(of: Process, path: string, body?: unknown): Promise<T> {
  let answer: Response;
  try {
    answer = await fetch(urlOf(of) + path, {
      method: body === undefined ? 'GET' : 'POST',
      headers: headers(),
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: AbortSignal.timeout(15_000),
      cache: 'no-store',
    });
  } catch (error) {
    if (error instanceof ExpectedError) throw error;
    throw new ExpectedError(
      'missing',
      'The recorder does not answer and is restarting. Outputs switch off automatically.',
    );
  }
  const value = (await answer.json()) as { problem?: string };
  if (!answer.ok) throw new ExpectedError('input', value.problem ?? `The recorder answered ${answer.status}.`);
  return value as T;
}

/** Says to every recorder that a window is still there. */
export async function sayAlive(body: unknown): Promise<void> {
  const benches = await knownBenches();
  await Promise.all([
    ask('recorder', '/alive', body).catch(() => undefined),
    ...benches.map((bench) => tellBench(bench, 'POST /alive', body)),
  ]);
}

/** Tells every recorder that the settings have changed. */
export async function reloadBenches(): Promise<void> {
  for (const bench of await knownBenches()) await tellBench(bench, 'POST /reload', {});
}

/** The stream of events of the recorder beside the database, as it comes; null where it does not answer. */
export async function streamOfRecorder(
  lastId: string | null,
  signal: AbortSignal,
): Promise<ReadableStream<Uint8Array> | null> {
  try {
    const stream = await fetch(`${urlOf('recorder')}/events`, {
      headers: { ...headers(), ...(lastId ? { 'last-event-id': lastId } : {}) },
      signal,
      cache: 'no-store',
    });
    return stream.ok ? stream.body : null;
  } catch (error) {
    if (signal.aborted) throw error;
    return null;
  }
}
