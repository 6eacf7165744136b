import { createHash } from 'node:crypto';
import type { IncomingHttpHeaders, IncomingMessage } from 'node:http';
import { RateLimiterMemory } from 'rate-limiter-flexible';
import { isUpload, maxBytesOf } from './gate.ts';
import policy from './policy.json';

/** Who asks: where from, and with which session or token, if any. */
interface Asker {
  address: string;
  session: string | null;
  /** It shows a token. */
  isProgram?: boolean;
}

/** More tokens than any shop has: they make themselves known again. */
const maxKnown = 1000;

/** How often one address, and one session, may ask. Files of the application itself do not count. */
export class Limits {
  private readonly reads = limiter(policy.requestsPerMinute);
  private readonly changes = limiter(policy.changesPerMinute);
  private readonly benches = limiter(policy.benchPerMinute);
  private readonly signIns = limiter(policy.signInsPerMinute);
  private readonly strangers = limiter(policy.strangersPerMinute);
  /** Tokens that were answered as ones that are known. */
  private readonly known = new Set<string>();

  /** @returns seconds to wait, or null where it may come in */
  async wait({ address, session, isProgram = false }: Asker, method: string, path: string): Promise<number | null> {
    if (path.startsWith('/_next/static/')) return null;
    if (isProgram && session !== null && !this.known.has(session)) {
      const tried = await this.strangers.get(address);
      if (tried !== null && tried.remainingPoints <= 0) return secondsOf(tried);
    }
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
      return secondsOf(full as { msBeforeNext?: number });
    }
  }

  /** How a program was answered: tokens that are not known are tried so often a minute from one address, and no oftener. */
  async answered({ address, session }: Asker, path: string, status: number): Promise<void> {
    if (session === null) return;
    if (this.known.size > maxKnown) this.known.clear();
    // Only what asks whose token it is can tell that it is one.
    if (status < 400 && path.startsWith('/api/') && path !== '/api/health') this.known.add(session);
    if (status !== 401) return;
    this.known.delete(session);
    await this.strangers.consume(address).catch(() => undefined);
  }
}

const secondsOf = ({ msBeforeNext = 1000 }: { msBeforeNext?: number }): number =>
  Math.max(1, Math.ceil(msBeforeNext / 1000));

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
 */
export function watchBody(request: IncomingMessage): void {
  const { url = '/' } = request;
  const [isFile, maxBytes] = [isUpload(url), maxBytesOf(url)];
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
    const isLarge = bytesRead - before > maxBytes + slackBytes;
    if (isLate || isLarge) request.destroy(new Error(isLarge ? 'too large' : 'the rest of the request did not arrive'));
  }, lookEveryMs);
  const done = (): void => clearInterval(timer);
  request.once('end', done);
  request.once('close', done);
}

/** What the pieces of a body carry beside it. */
const slackBytes = 200_000;
