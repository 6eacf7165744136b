import { AsyncLocalStorage } from 'node:async_hooks';
import { randomBytes, randomUUID } from 'node:crypto';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { createServer as createSecureServer } from 'node:https';
import type { BlockList } from 'node:net';
import type { Logger } from 'pino';
import { addressOf } from './address.ts';
import { contentPolicy, everyAnswer, isUpload, judge, pathOf } from './gate.ts';
import { Limits, sessionOf, watchBody } from './limits.ts';
import type { Metrics } from './metrics.ts';
import policy from './policy.json';

/** What everything that is done for a request can ask: its id, as logs and error pages show it, and who sent it. */
export interface RequestContext {
  id: string;
  address: string;
}

declare global {
  // The pages are bundled apart from this server; both are in one process.
  var umbralRequest: AsyncLocalStorage<RequestContext> | undefined;
  var umbralLog: Logger | undefined;
}

export interface FrontOptions {
  /** Names beside those of loopback. */
  hosts: ReadonlySet<string>;
  trustedProxies: BlockList;
  log: Logger;
  metrics: Metrics;
  development?: boolean;
  /** A certificate and its key, PEM: then it speaks HTTPS. */
  tls?: { cert: Buffer; key: Buffer };
}

type Handler = (request: IncomingMessage, response: ServerResponse) => Promise<void>;

/** The door: judges every request before a page, a route or an action sees it, and counts and logs it. */
export function frontServer(handler: Handler, options: FrontOptions): Server {
  const contexts = (globalThis.umbralRequest ??= new AsyncLocalStorage());
  globalThis.umbralLog = options.log;
  const limits = new Limits();
  const settings = {
    maxHeaderSize: policy.maxHeaderBytes,
    headersTimeout: policy.headersMs,
    requestTimeout: policy.uploadMs,
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
    ? createSecureServer({ ...options.tls, ...settings }, listener)
    : createServer(settings, listener);
  server.maxConnections = policy.maxConnections;
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
    response.writeHead(status, { 'content-type': 'application/json; charset=utf-8', connection: 'close' });
    response.end(JSON.stringify({ ok: false, kind: 'refused', message: why, reference: id }));
  };
  const refused = judge({ method, url, headers: request.headers }, hosts);
  if (refused) return refuse(refused.status, refused.why);
  const wait = await limits.wait({ address, session: sessionOf(request.headers) }, method, path);
  if (wait !== null) {
    response.setHeader('retry-after', String(wait));
    return refuse(429, `Too much at once; try again in ${wait} s.`);
  }
  if (method === 'POST') watchBody(request, isUpload(url));
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
  try {
    await handler(request, response);
  } catch (error) {
    log.error({ request: id, err: error }, 'the request was not answered');
    if (response.headersSent) response.destroy();
    else refuse(500, `Something went wrong here (reference ${id}).`);
  }
}
