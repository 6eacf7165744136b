import { ExpectedError } from './errors.ts';

/** Which process answers: the recorder, or the hands on the simulated bench. */
export type Process = 'recorder' | 'hands';

const urls: Record<Process, string | undefined> = {
  recorder: process.env.UMBRAL_RECORDER_URL,
  hands: process.env.UMBRAL_HANDS_URL,
};

function urlOf(of: Process): string {
  const url = urls[of];
  if (url) return url;
  throw new ExpectedError(
    'missing',
    of === 'recorder'
      ? 'No recorder runs here; start with "npm run demo" or "npm start".'
      : 'There is no simulated bench here.',
  );
}

const headers = (): Record<string, string> => ({ authorization: `Bearer ${process.env.UMBRAL_RECORDER_TOKEN ?? ''}` });

/**
 * Asks the recorder, or the simulated bench.
 *
 * @throws {ExpectedError} with what it refuses, or that it does not answer
 */
export async function ask<T>(of: Process, path: string, body?: unknown): Promise<T> {
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
      'The recorder does not answer; it is being started again. Outputs go off by themselves.',
    );
  }
  const value = (await answer.json()) as { problem?: string };
  if (!answer.ok) throw new ExpectedError('input', value.problem ?? `The recorder answers ${answer.status}.`);
  return value as T;
}

const streamed = { 'content-type': 'text/event-stream', 'cache-control': 'no-store', 'x-accel-buffering': 'no' };

/**
 * The recorder's stream of events, passed on as it comes. While it does not answer the stream says `away` and ends: a
 * browser asks again after such an end, with what it saw last, but never again after an answer that is an error.
 */
export async function eventsOf(lastId: string | null, signal: AbortSignal): Promise<Response> {
  const away = new Response('retry: 1000\nevent: away\ndata: {}\n\n', { headers: streamed });
  try {
    const stream = await fetch(`${urlOf('recorder')}/events`, {
      headers: { ...headers(), ...(lastId ? { 'last-event-id': lastId } : {}) },
      signal,
      cache: 'no-store',
    });
    return stream.ok ? new Response(stream.body, { headers: streamed }) : away;
  } catch (error) {
    if (signal.aborted) throw error;
    return away;
  }
}
