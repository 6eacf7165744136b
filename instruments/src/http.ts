import { timingSafeEqual } from 'node:crypto';
import type { IncomingMessage, Server, ServerResponse } from 'node:http';
import { ValidationError } from 'yup';

const maxBody = 200_000;

/** A request that is larger than any that is meant. */
class TooMuch extends Error {}

/** Something that was asked for and cannot be; the message is for the person who asked. */
export class Refusal extends Error {
  constructor(message: string) {
    super(message);
    this.name = 'Refusal';
  }
}

/** Listens on loopback only; returns the port. */
export async function listenForJson(server: Server, port: number): Promise<number> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, '127.0.0.1', () => resolve());
  });
  const address = server.address();
  return typeof address === 'object' && address ? address.port : port;
}

/**
 * Answers a request with the token in JSON: what `work` returns, or in words why not.
 *
 * @param work is given the path and the body; undefined for what is not there
 */
export async function answerJson(
  request: IncomingMessage,
  response: ServerResponse,
  token: string,
  work: (path: string, body: unknown) => unknown,
): Promise<void> {
  const answer = (status: number, value: unknown): void => {
    response.writeHead(status, { 'content-type': 'application/json' });
    response.end(JSON.stringify(value));
  };
  try {
    if (!holdsToken(request, token)) return answer(401, { problem: 'the token is missing or wrong' });
    const { pathname } = new URL(request.url ?? '/', 'http://127.0.0.1');
    const body = request.method === 'POST' ? await bodyOf(request) : undefined;
    const value = await work(`${request.method} ${pathname}`, body);
    return value === undefined ? answer(404, { problem: 'not found' }) : answer(200, value);
  } catch (error) {
    const isExpected = [Refusal, RangeError, TooMuch, ValidationError, SyntaxError].some((k) => error instanceof k);
    // What was not read of the request ends with the connection.
    if (error instanceof TooMuch) response.setHeader('connection', 'close');
    answer(isExpected ? 409 : 500, { problem: error instanceof Error ? error.message : String(error) });
  }
}

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
async function bodyOf(request: IncomingMessage): Promise<unknown> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of request as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > maxBody) throw new TooMuch('Too many requests.');
    pieces.push(piece);
  }
  return size === 0 ? {} : JSON.parse(Buffer.concat(pieces).toString('utf8'));
}
