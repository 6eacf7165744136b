import { randomUUID } from 'node:crypto';
import { FormatError } from '@umbral/core';
import pino from 'pino';
import { ValidationError } from 'yup';

export const log = pino({ level: process.env.LOG_LEVEL ?? 'warn' });

/** Something expected that stops the request, in words for the person. */
export class ExpectedError extends Error {
  readonly kind: 'input' | 'conflict' | 'missing';

  constructor(kind: ExpectedError['kind'], message: string) {
    super(message);
    this.kind = kind;
  }
}

export const conflict = (): ExpectedError =>
  new ExpectedError(
    'conflict',
    'Someone else has saved this in the meantime. Nothing of yours was stored; look at the new state and enter it again.',
  );

export const missing = (what: string): ExpectedError =>
  new ExpectedError('missing', `${what} is not there (any more).`);

export type Failure = { ok: false; kind: 'input' | 'conflict' | 'missing' | 'unexpected'; message: string };
export type Result<T> = { ok: true; value: T } | Failure;

/** Turns whatever was thrown into words; what nobody expected is logged under an id that the person sees. */
export function failure(error: unknown): Failure {
  if (error instanceof ExpectedError) return { ok: false, kind: error.kind, message: error.message };
  if (error instanceof FormatError) return { ok: false, kind: 'input', message: error.message };
  if (error instanceof ValidationError) return { ok: false, kind: 'input', message: error.errors.join('; ') };
  const id = randomUUID().slice(0, 8);
  log.error({ id, err: error }, 'unexpected error');
  return { ok: false, kind: 'unexpected', message: `Something went wrong here (reference ${id}). Nothing was stored.` };
}

export async function resultOf<T>(work: () => Promise<T>): Promise<Result<T>> {
  try {
    return { ok: true, value: await work() };
  } catch (error) {
    return failure(error);
  }
}

const statuses = { input: 422, conflict: 409, missing: 404, unexpected: 500 };

/** A result as an answer of a route handler. */
export function answer<T>(result: Result<T>): Response {
  return Response.json(result, { status: result.ok ? 200 : statuses[result.kind] });
}
