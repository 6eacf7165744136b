import { fork } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import type { IncomingMessage, Server } from 'node:http';
import { join } from 'node:path';
import type { Duplex } from 'node:stream';
import { takeLock } from '../../instruments/plain/lock.cjs';
import { readNetworks } from './address.ts';
import { Heartbeats, isAlive } from './alive.ts';
import { frontServer, type Handler } from './front.ts';
import { judgeRequest } from './gate.ts';
import { logOf } from './log.ts';
import { oneLongBodyAtATime } from './long-bodies.ts';
import { Metrics } from './metrics.ts';
import { Proxy } from './proxy.ts';

/** How long requests under way have to end when we are stopped. */
const graceMs = 3000;

type Upgrade = (request: IncomingMessage, socket: Duplex, head: Buffer) => Promise<void>;

/** Sockets for names of loopback alone. */
const onlyFromHere =
  (upgrade: Upgrade) =>
  (request: IncomingMessage, socket: Duplex, head: Buffer): void => {
    const { method = 'GET', url = '/', headers } = request;
    if (judgeRequest({ method, url, headers }, new Set())) socket.destroy();
    else void upgrade(request, socket, head).catch(() => socket.destroy());
  };

const listen = (server: Server, port: number, hostname: string): Promise<void> =>
  new Promise((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, hostname, () => resolve());
  });

/**
 * The certificate for a second, secure port: phones give a page their camera only over HTTPS.
 *
 * @throws {Error} for files that cannot be read, or a port that is none
 */
function certificateOf(env: NodeJS.ProcessEnv): { cert: Buffer; key: Buffer; port: number } | null {
  const { UMBRAL_TLS_CERT: cert, UMBRAL_TLS_KEY: key, UMBRAL_TLS_PORT: stated = '4343' } = env;
  if (!cert && !key) return null;
  if (!cert || !key)
    throw new Error('UMBRAL_TLS_CERT and UMBRAL_TLS_KEY: both the certificate and its key are needed.');
  const port = Number(stated);
  if (!Number.isInteger(port) || port < 1 || port > 65_535)
    throw new Error(`UMBRAL_TLS_PORT is "${stated}"; expected a number from 1 to 65535.`);
  return { cert: readFileSync(cert), key: readFileSync(key), port };
}

interface Pages {
  handler: Handler;
  upgrade: Upgrade | null;
}

/** The process that draws the pages; this one ends with it, and is started again with it. */
async function pagesBeside(): Promise<Pages> {
  const { env } = process;
  const secret = randomBytes(24).toString('base64url');
  // Room for what lives for one request alone: without it, files of many parts are copied around and hold up everybody.
  const child = fork(join(__dirname, 'pages.js'), {
    env: { ...env, UMBRAL_DOOR: secret },
    execArgv: ['--max-semi-space-size=64'],
  });
  child.once('exit', (code, signal) => process.exit(signal ? 1 : (code ?? 1)));
  process.once('exit', () => child.kill('SIGTERM'));
  const [{ port }] = (await once(child, 'message')) as [{ port: number }];
  const proxy = new Proxy(port, secret);
  const { UMBRAL_RECORDER_URL: url, UMBRAL_RECORDER_TOKEN: token = '' } = env;
  const heartbeats = new Heartbeats(proxy, url ? { url, token } : null);
  const pass = oneLongBodyAtATime(proxy.pass);
  const handler: Handler = (request, response) =>
    isAlive(request) ? heartbeats.take(request, response) : pass(request, response);
  return { handler, upgrade: null };
}

const main = async (): Promise<void> => {
  const { env } = process;
  const port = Number(env.UMBRAL_WEB_PORT ?? 4300);
  const hostname = env.UMBRAL_LISTEN ?? '127.0.0.1';
  const development = env.NODE_ENV !== 'production';
  const log = logOf('web', env);
  // Held for this process's life, so that the next start finds it whatever became of whoever started it.
  if (env.UMBRAL_DATA_FOLDER) await takeLock(`web-${port}`, env.UMBRAL_DATA_FOLDER);
  const metrics = new Metrics();
  const pages = development ? await (await import('./pages-here.ts')).pagesHere(port, hostname) : await pagesBeside();
  const { handler } = pages;
  const options = {
    hosts: new Set(
      (env.UMBRAL_HOSTS ?? '')
        .toLowerCase()
        .split(',')
        .map((h) => h.trim())
        .filter(Boolean),
    ),
    trustedProxies: readNetworks(env.UMBRAL_TRUSTED_PROXIES ?? ''),
    log,
    metrics,
    development,
  };
  const server = frontServer(handler, options);
  const secure = certificateOf(env);
  if (secure) await listen(frontServer(handler, { ...options, tls: secure }), secure.port, hostname);
  // Pages that are being worked on are told of changes over a socket of their own.
  if (pages.upgrade) server.on('upgrade', onlyFromHere(pages.upgrade));
  if (env.UMBRAL_METRICS_PORT) await metrics.listen(Number(env.UMBRAL_METRICS_PORT));
  await listen(server, port, hostname);
  const stop = (): void => {
    setTimeout(() => process.exit(0), graceMs).unref();
    server.close(() => process.exit(0));
    server.closeIdleConnections();
  };
  process.once('SIGTERM', stop);
  process.once('SIGINT', stop);
  // Whoever started it is gone.
  process.once('disconnect', stop);
  process.send?.({ port });
};

main().catch((error: unknown) => {
  process.stderr.write(`${error instanceof Error ? (error.stack ?? error.message) : String(error)}\n`);
  process.exit(1);
});
