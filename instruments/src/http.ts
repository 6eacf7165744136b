import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage } from 'node:http';

const mostBody = 200_000;

/** A request that is larger than any that is meant. */
export class TooMuch extends Error {}

/** Whether a request carries the token, compared in a time that tells nothing. */
export function holdsToken(request: IncomingMessage, token: string): boolean {
  const [given, wanted] = [request.headers.authorization ?? '', `Bearer ${token}`].map((s) => Buffer.from(s));
  return given.length === wanted.length && timingSafeEqual(given, wanted);
}

/**
 * The JSON of a request; an empty object where there is none.
 *
 * @throws {SyntaxError} for what is no JSON
 * @throws {TooMuch} for more than 200 kB
 */
export async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of request as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > mostBody) throw new TooMuch('That is too much at once.');
    pieces.push(piece);
  }
  return size === 0 ? {} : JSON.parse(Buffer.concat(pieces).toString('utf8'));
}
