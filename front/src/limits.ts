import type { IncomingMessage } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import policy from './policy.json';

/** How often one address may ask. Files of the application itself do not count. */
export class Limits {
  private readonly reads = limiter(policy.requestsPerMinute);
  private readonly changes = limiter(policy.changesPerMinute);
  private readonly signIns = limiter(policy.signInsPerMinute);

  /** @returns seconds to wait, or null where it may come in */
  async wait(address: string, method: string, path: string): Promise<number | null> {
    if (path.startsWith('/_next/static/')) return null;
    const asks = method === 'POST' ? (path === '/sign-in' ? this.signIns : this.changes) : this.reads;
    try {
      await asks.consume(address);
      return null;
    } catch (full) {
      const { msBeforeNext = 1000 } = full as { msBeforeNext?: number };
      return Math.max(1, Math.ceil(msBeforeNext / 1000));
    }
  }
}

function limiter(perMinute: number): RateLimiterMemory {
  return new RateLimiterMemory({ points: perMinute, duration: 60 });
}

/** How often a body is looked at. */
const lookEveryMs = 100;

/**
 * Ends a request whose body does not come, or comes without an end: a small one as a whole, a file when nothing more of it
 * arrives.
 *
 * @param isFile looks at progress instead of the whole
 */
export function watchBody(request: IncomingMessage, isFile: boolean): void {
  const began = performance.now();
  const before = request.socket.bytesRead;
  let [bytes, at] = [before, began];
  const timer = setInterval(() => {
    const now = performance.now();
    const { bytesRead } = request.socket;
    if (bytesRead > bytes) [bytes, at] = [bytesRead, now];
    const isLate = isFile
      ? now - at > policy.uploadSilentMs || now - began > policy.uploadMs
      : now - began > policy.bodyMs;
    const isLarge = bytesRead - before > (isFile ? policy.mostUploadBytes : policy.mostBodyBytes) + slackBytes;
    if (isLate || isLarge) request.destroy(new Error(isLarge ? 'too large' : 'the rest of the request did not come'));
  }, lookEveryMs);
  const done = (): void => clearInterval(timer);
  request.once('end', done);
  request.once('close', done);
}

/** What the pieces of a body carry beside it. */
const slackBytes = 200_000;
