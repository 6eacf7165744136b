import type { IncomingMessage, ServerResponse } from 'node:http';
import { bodyOf } from './long-bodies.ts';
import type { Proxy } from './proxy.ts';

const alivePath = '/api/recorder/alive';
const maxBytes = 1000;
const maxRefused = 1000;
const answerMs = 2000;

export const isAlive = ({ method, url }: IncomingMessage): boolean =>
  method === 'POST' && (url ?? '').split('?', 1)[0] === alivePath;

/**
 * Heartbeats of windows that hold an output. They reach the recorder from here, on a thread that draws no pages: whatever
 * the pages are busy with, nobody's watched output goes off. The key that arming gave is what a heartbeat is known by;
 * whether its window may still be there is asked of the pages behind it, and one that may not is passed on no more.
 */
export class Heartbeats {
  private readonly refused = new Set<string>();
  /** Keys about which the pages are being asked. */
  private readonly asking = new Set<string>();

  /** @param recorder where it is asked; null where none runs here */
  constructor(
    private readonly proxy: Proxy,
    private readonly recorder: { url: string; token: string } | null,
  ) {}

  async take(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const body = await bodyOf(request, maxBytes);
    if (body === null) {
      response.writeHead(413, { connection: 'close' }).end();
      return;
    }
    const key = keyOf(body);
    if (!key || this.refused.has(key) || !(await this.tell(key))) return this.proxy.pass(request, response, body);
    response.writeHead(200, { 'content-type': 'application/json' });
    response.end(JSON.stringify({ ok: true, value: {} }));
    void this.askAbout(key, request, body);
  }

  /** @returns whether an instrument here was armed with this key; others are at benches elsewhere */
  private async tell(key: string): Promise<boolean> {
    if (!this.recorder) return false;
    try {
      const answer = await fetch(`${this.recorder.url}/alive`, {
        method: 'POST',
        headers: { authorization: `Bearer ${this.recorder.token}` },
        body: JSON.stringify({ key }),
        signal: AbortSignal.timeout(answerMs),
      });
      return answer.ok && ((await answer.json()) as { isHere?: boolean }).isHere === true;
    } catch {
      return false;
    }
  }

  private async askAbout(key: string, { headers }: IncomingMessage, body: Buffer): Promise<void> {
    if (this.asking.has(key)) return;
    this.asking.add(key);
    const status = await this.proxy.status('POST', alivePath, headers, body);
    this.asking.delete(key);
    if (status === null || ![401, 403, 423].includes(status)) return;
    if (this.refused.size >= maxRefused) this.refused.clear();
    this.refused.add(key);
  }
}

function keyOf(body: Buffer): string | null {
  try {
    const { key } = JSON.parse(body.toString('utf8')) as { key?: unknown };
    return typeof key === 'string' && /^[\w-]{8,80}$/.test(key) ? key : null;
  } catch {
    return null;
  }
}
