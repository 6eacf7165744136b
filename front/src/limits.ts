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

/**
 * Ends a request whose body does not come: a small one as a whole, a file when nothing more of it arrives.
 *
 * @param isFile looks at progress instead of the whole
 */
export function watchBody(request: IncomingMessage, isFile: boolean): void {
  const began = performance.now();
  let [bytes, at] = [request.socket.bytesRead, began];
  const timer = setInterval(() => {
    const now = performance.now();
    if (request.socket.bytesRead > bytes) [bytes, at] = [request.socket.bytesRead, now];
    const isLate = isFile
      ? now - at > policy.uploadSilentMs || now - began > policy.uploadMs
      : now - began > policy.bodyMs;
    if (isLate) request.destroy(new Error('the rest of the request did not come'));
  }, 1000);
  const done = (): void => clearInterval(timer);
  request.once('end', done);
  request.once('close', done);
}
