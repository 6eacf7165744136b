import { AsyncLocalStorage } from 'node:async_hooks';
import { randomBytes, randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { BlockList } from 'node:net';
import type { Logger } from 'pino';
import { addressOf } from './address.ts';
import { boundUnfinished } from './connections.ts';
import { contentPolicy, everyAnswer, judgeRequest, pathOf } from './gate.ts';
import { Limits, sessionOf, watchBody } from './limits.ts';
import type { Metrics } from './metrics.ts';
import policy from './policy.json';
import { PagesAway } from './proxy.ts';

/** What everything that is done for a request can ask: its id, as logs and error pages show it, and who sent it. */
interface RequestContext {
  id: string;
  address: string;
}

declare global {
  // The pages are bundled apart from this server; both are in one process.
  var umbralRequest: AsyncLocalStorage<RequestContext> | undefined;
  var umbralLog: Logger | undefined;
}

interface FrontOptions {
  /** Names beside those of loopback. */
  hosts: ReadonlySet<string>;
  trustedProxies: BlockList;
  log: Logger;
  metrics: Metrics;
  development?: boolean;
  /** A certificate and its key, PEM: then it speaks HTTPS. */
  tls?: { cert: Buffer; key: Buffer };
}

export type Handler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/** The door: judges every request before a page, a route or an action sees it, and counts and logs it. */
export function frontServer(handler: Handler, options: FrontOptions): Server {
  const contexts = (globalThis.umbralRequest ??= new AsyncLocalStorage());
  globalThis.umbralLog = options.log;
  const limits = new Limits();
  const settings = {
    maxHeaderSize: policy.maxHeaderBytes,
    headersTimeout: policy.headersMs,
    requestTimeout: policy.uploadMs,
    connectionsCheckingInterval: policy.checkEveryMs,
    keepAliveTimeout: 65_000,
  };
  const listener = (request: IncomingMessage, response: ServerResponse): void => {
    const { headers } = request;
    const address = addressOf(
      request.socket.remoteAddress,
      headers['x-forwarded-for'] as string,
      options.trustedProxies,
    );
    const context = { id: randomUUID().slice(0, 8), address };
    void contexts.run(context, () => serve(request, response, handler, { ...options, limits, context }));
  };
  const server = options.tls
    ? createSecureServer({ ...options.tls, ...settings, handshakeTimeout: policy.handshakeMs }, listener)
    : createServer(settings, listener);
  server.maxConnections = policy.maxConnections;
  boundUnfinished(server, options.tls ? 'secureConnection' : 'connection', options.trustedProxies);
  return server;
}

interface Serving extends FrontOptions {
  limits: Limits;
  context: RequestContext;
}

async function serve(
  request: IncomingMessage,
  response: ServerResponse,
  handler: Handler,
  { hosts, limits, context, log, metrics, development }: Serving,
): Promise<void> {
  const { method = 'GET', url = '/' } = request;
  const { id, address } = context;
  const path = pathOf(url);
  const began = performance.now();
  metrics.open.inc();
  response.once('close', () => {
    metrics.open.dec();
    const ms = Math.round(performance.now() - began);
    metrics.answered(path, response.statusCode, ms / 1000);
    const level = response.statusCode >= 500 ? 'error' : path.startsWith('/_next/') ? 'trace' : 'info';
    log[level]({ request: id, method, path, status: response.statusCode, ms, address }, 'answered');
  });
  for (const [name, value] of Object.entries(everyAnswer)) response.setHeader(name, value);
  response.setHeader('x-request-id', id);
  const refuse = (status: number, why: string): void => {
    metrics.refuse(status);
    log.warn({ request: id, method, path: path.slice(0, 200), status, why, address }, 'refused');
    const answer = (): void => answerRefused(request, response, { status, why, id });
    // A browser that is still sending hears of no answer: what is not too much by far is let come first, and thrown away.
    if (Number(request.headers['content-length'] ?? 0) > policy.maxBodyBytes || request.complete || request.destroyed)
      return answer();
    watchBody(request);
    request.resume().once('end', answer);
  };
  const refused = judgeRequest({ method, url, headers: request.headers }, hosts);
  if (refused) return refuse(refused.status, refused.why);
  const asker = {
    address,
    session: sessionOf(request.headers),
    isProgram: request.headers.authorization !== undefined,
  };
  const wait = await limits.wait(asker, method, path);
  if (wait !== null) {
    response.setHeader('retry-after', String(wait));
    return refuse(429, `Too many requests. Try again in ${wait} s.`);
  }
  if (method === 'POST') watchBody(request);
  const nonce = randomBytes(16).toString('base64');
  const content = contentPolicy(nonce, development);
  response.setHeader('content-security-policy', content);
  // The pages read the nonce from the request; nobody outside says it.
  Object.assign(request.headers, {
    'content-security-policy': content,
    'x-nonce': nonce,
    'x-request-id': id,
    'x-umbral-address': address,
  });
  if (asker.isProgram) response.once('close', () => void limits.answered(asker, path, response.statusCode));
  try {
    await handler(request, response);
  } catch (error) {
    if (response.headersSent) return void response.destroy();
    if (error instanceof PagesAway) return refuse(503, 'The server is starting. Try again in a moment.');
    log.error({ request: id, err: error }, 'the request was not answered');
    refuse(500, `Something went wrong (reference ${id}).`);
  }
}

function answerRefused(
  request: IncomingMessage,
  response: ServerResponse,
  { status, why, id }: { status: number; why: string; id: string },
): void {
  // What a page sends through an action of its own is answered in words that the page can show.
  const isAction = request.headers['next-action'] !== undefined;
  const type = isAction ? 'text/plain' : 'application/json; charset=utf-8';
  response.writeHead(status, { 'content-type': type, connection: 'close' });
  const answer = { ok: false, kind: 'refused', message: why, reference: id };
  response.end(isAction ? `Refused: ${why}` : JSON.stringify(answer));
}
