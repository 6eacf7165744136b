import { timingSafeEqual } from 'node:crypto';
import { AsyncLocalStorage } from 'node:async_hooks';
import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import next from 'next';
import { logOf } from './log.ts';

/** How long requests under way have to end when we are stopped. */
const graceMs = 3000;

const env = process.env;

/** Nobody but the door asks here, whatever else runs on this computer. */
function isFromDoor(request: IncomingMessage): boolean {
  const [given, wanted] = [String(request.headers['x-umbral-door'] ?? ''), env.UMBRAL_DOOR ?? ''].map((s) =>
    Buffer.from(s),
  );
  return wanted.length > 0 && given.length === wanted.length && timingSafeEqual(given, wanted);
}

/** Draws the pages, in a process of its own: whatever takes long here holds up no heartbeat and no judgement at the door. */
const main = async (): Promise<void> => {
  globalThis.umbralLog = logOf('pages', env);
  const contexts = (globalThis.umbralRequest ??= new AsyncLocalStorage());
  const app = next({
    dev: false,
    dir: join(__dirname, '../../web'),
    hostname: env.UMBRAL_LISTEN ?? '127.0.0.1',
    port: Number(env.UMBRAL_WEB_PORT ?? 4300),
  });
  await app.prepare();
  const handler = app.getRequestHandler();
  const server = createServer((request, response) => {
    if (!isFromDoor(request)) return void response.writeHead(403).end();
    delete request.headers['x-umbral-door'];
    const { 'x-request-id': id, 'x-umbral-address': address } = request.headers;
    contexts.run({ id: String(id), address: String(address) }, () => {
      handler(request, response).catch((error: unknown) => {
        globalThis.umbralLog?.error({ request: id, err: error }, 'the request was not answered');
        response.destroy();
      });
    });
  });
  // The door holds on to its connections, and bounds what comes through them.
  Object.assign(server, { keepAliveTimeout: 0, requestTimeout: 0, headersTimeout: 0 });
  server.listen(0, '127.0.0.1', () => process.send?.({ port: (server.address() as AddressInfo).port }));
  const stop = (): void => {
    setTimeout(() => process.exit(0), graceMs).unref();
    server.close(() => process.exit(0));
    server.closeIdleConnections();
  };
  for (const signal of ['SIGTERM', 'SIGINT'] as const) process.once(signal, stop);
  // The door is gone.
  process.once('disconnect', stop);
};

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
  process.exit(1);
});
