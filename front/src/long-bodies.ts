import type { IncomingMessage, ServerResponse } from 'node:http';
import pLimit from 'p-limit';
import { isForPages } from './gate.ts';
import policy from './policy.json';

type Pass = (request: IncomingMessage, response: ServerResponse, body?: Buffer) => Promise<void>;

/** The body of a request; null for one of more bytes than that. */
export async function bodyOf(request: IncomingMessage, maxBytes: number): Promise<Buffer | null> {
  const pieces: Buffer[] = [];
  let size = 0;
  for await (const piece of request as AsyncIterable<Buffer>) {
    size += piece.length;
    if (size > maxBytes) return null;
    pieces.push(piece);
  }
  return Buffer.concat(pieces);
}

/**
 * What a page sends is read by the thread that serves everybody else, at up to half a millisecond a kilobyte. Long bodies are
 * therefore taken in here as a whole and go there one after another, so that however many come at once, others are served
 * between two of them. One whose answer takes long lets the next one go after a while: by then it has been read.
 */
export function oneLongBodyAtATime(pass: Pass): Pass {
  const line = pLimit(1);
  return async (request, response) => {
    const { method, url = '/', headers } = request;
    const stated = Number(headers['content-length'] ?? (headers['transfer-encoding'] ? Infinity : 0));
    if (method !== 'POST' || !isForPages(url) || stated <= policy.longBodyBytes) return pass(request, response);
    const body = await bodyOf(request, policy.maxActionBytes);
    if (body === null) return void response.writeHead(413, { connection: 'close' }).end();
    let passed: Promise<void> = Promise.resolve();
    await line(() => {
      if (response.destroyed) return undefined;
      passed = pass(request, response, body);
      return Promise.race([passed.catch(() => undefined), afterMs(policy.longBodyMs)]);
    });
    return passed;
  };
}

const afterMs = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms).unref());
