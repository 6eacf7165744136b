import type { AsyncLocalStorage } from 'node:async_hooks';
import { randomUUID } from 'node:crypto';
import { FormatError } from '@umbral/core';
import pino, { type Logger } from 'pino';
import { ValidationError } from 'yup';

/** The log of this process; the door makes it before any page is loaded. */
export const log: Logger = globalThis.umbralLog ?? pino({ level: process.env.LOG_LEVEL ?? 'warn' });

declare global {
  // Made by the door, which is bundled apart from the pages.
  var umbralLog: Logger | undefined;
  var umbralRequest: AsyncLocalStorage<{ id: string; address: string }> | undefined;
}

/** The id of the request under way, as the log and the answer's headers have it. */
const requestId = (): string => globalThis.umbralRequest?.getStore()?.id ?? randomUUID().slice(0, 8);

/** Something expected that stops the request, in words for the person. */
export class ExpectedError extends Error {
  readonly kind: 'input' | 'conflict' | 'missing' | 'busy' | 'asked';

  constructor(kind: ExpectedError['kind'], message: string) {
    super(message);
    this.kind = kind;
  }
}

/** What is to be asked before something odd is kept: said once more with `confirmed`, it is. */
export const asked = (questions: readonly string[]): ExpectedError => new ExpectedError('asked', questions.join(' '));

/** Nobody is signed in, the screen is locked, or somebody may not do this. */
export class AccessError extends Error {
  readonly kind: 'signed-out' | 'locked' | 'forbidden';

  constructor(kind: AccessError['kind'], message: string) {
    super(message);
    this.kind = kind;
  }
}

export const conflict = (): ExpectedError =>
  new ExpectedError(
    'conflict',
    'Someone else saved this in the meantime. Your change was not saved. Check the new state and enter it again.',
  );

export const missing = (what: string): ExpectedError => new ExpectedError('missing', `${what} no longer exists.`);

type Failure = {
  ok: false;
  kind: ExpectedError['kind'] | AccessError['kind'] | 'away' | 'unexpected';
  message: string;
};
export type Result<T> = { ok: true; value: T } | Failure;

/** Turns whatever was thrown into words; what nobody expected is logged under an id that the person sees. */
export function failure(error: unknown): Failure {
  if (error instanceof ExpectedError) return { ok: false, kind: error.kind, message: error.message };
  if (error instanceof AccessError) return { ok: false, kind: error.kind, message: error.message };
  if (error instanceof FormatError) return { ok: false, kind: 'input', message: error.message };
  if (error instanceof ValidationError) return { ok: false, kind: 'input', message: error.errors.join('; ') };
  // What yup makes of a key such as "constructor", which every object has.
  if (error instanceof TypeError && error.message === 'field.resolve is not a function')
    return { ok: false, kind: 'input', message: 'expected a plain object' };
  // Raised by the database itself, whatever asked (migration 20261209_claims).
  if ((error as { code?: unknown } | null)?.code === 'UM001')
    return {
      ok: false,
      kind: 'forbidden',
      message: 'This practice unit belongs to someone else.',
    };
  // SQLSTATE class 22: a value that no column can hold, such as a text with a zero character.
  if (/^22/.test(String((error as { code?: unknown } | null)?.code ?? '')))
    return {
      ok: false,
      kind: 'input',
      message: 'A value cannot be saved. It is too large or contains a character that is not allowed.',
    };
  const id = requestId();
  if (isDatabaseAway(error)) {
    log.warn({ request: id, problem: String(error) }, 'the database is not available');
    return {
      ok: false,
      kind: 'away',
      message: 'The database is not available. Nothing was saved. Try again in a moment.',
    };
  }
  log.error({ request: id, err: error }, 'unexpected error');
  return { ok: false, kind: 'unexpected', message: `Something went wrong (reference ${id}). Nothing was saved.` };
}

/** Codes of a connection that cannot be made or that broke: SQLSTATE classes 08 and 57, and those of the network. */
const awayCodes = /^(08|57P0|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)/;

function isDatabaseAway(error: unknown): boolean {
  const { code, name, message } = (error ?? {}) as { code?: unknown; name?: string; message?: string };
  return (
    (typeof code === 'string' && awayCodes.test(code)) ||
    name === 'KnexTimeoutError' ||
    /^Connection terminated/.test(message ?? '')
  );
}

const statuses: Record<Failure['kind'], number> = {
  input: 422,
  conflict: 409,
  asked: 409,
  missing: 404,
  'signed-out': 401,
  locked: 423,
  forbidden: 403,
  busy: 503,
  away: 503,
  unexpected: 500,
};

/** A result as an answer of a route handler. */
export function answer<T>(result: Result<T>): Response {
  return Response.json(result, { status: result.ok ? 200 : statuses[result.kind] });
}
