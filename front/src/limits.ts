import { createHash } from 'node:crypto';
import type { IncomingHttpHeaders, IncomingMessage } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import policy from './policy.json';

/** Who asks: where from, and with which session or token, if any. */
export interface Asker {
  address: string;
  session: string | null;
}

/** How often one address, and one session, may ask. Files of the application itself do not count. */
export class Limits {
  private readonly reads = limiter(policy.requestsPerMinute);
  private readonly changes = limiter(policy.changesPerMinute);
  private readonly benches = limiter(policy.benchPerMinute);
  private readonly signIns = limiter(policy.signInsPerMinute);

  /** @returns seconds to wait, or null where it may come in */
  async wait({ address, session }: Asker, method: string, path: string): Promise<number | null> {
    if (path.startsWith('/_next/static/')) return null;
    // Benches tell what they measure many times a second, several of them from behind one address.
    const isBench = session !== null && path.startsWith('/api/bench/');
    const asks = isBench
      ? this.benches
      : method !== 'POST'
        ? this.reads
        : path === '/sign-in'
          ? this.signIns
          : this.changes;
    try {
      if (!isBench) await asks.consume(`at ${address}`);
      if (session !== null) await asks.consume(`as ${session}`);
      return null;
    } catch (full) {
      const { msBeforeNext = 1000 } = full as { msBeforeNext?: number };
      return Math.max(1, Math.ceil(msBeforeNext / 1000));
    }
  }
}

/** What tells one session or token from another, without being it. */
export function sessionOf({ cookie, authorization }: IncomingHttpHeaders): string | null {
  const secret = /(?:^|;\s?)umbral_session=([^;]{1,100})/.exec(cookie ?? '')?.[1] ?? authorization ?? null;
  return secret === null ? null : createHash('sha256').update(secret).digest('hex').slice(0, 16);
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
    // All of it came, whether or not anybody has read it yet: what takes long now is the answer.
    if (request.complete) return clearInterval(timer);
    const now = performance.now();
    const { bytesRead } = request.socket;
    if (bytesRead > bytes) [bytes, at] = [bytesRead, now];
    const isLate = isFile
      ? now - at > policy.uploadSilentMs || now - began > policy.uploadMs
      : now - began > policy.bodyMs;
    const isLarge = bytesRead - before > (isFile ? policy.maxUploadBytes : policy.maxBodyBytes) + slackBytes;
    if (isLate || isLarge) request.destroy(new Error(isLarge ? 'too large' : 'the rest of the request did not come'));
  }, lookEveryMs);
  const done = (): void => clearInterval(timer);
  request.once('end', done);
  request.once('close', done);
}

/** What the pieces of a body carry beside it. */
const slackBytes = 200_000;
