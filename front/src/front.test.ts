import { execFileSync } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { request as httpRequest, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { request as secureRequest } from 'node:https';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setImmediate } from 'node:timers/promises';
import pino from 'pino';
import { readNetworks } from './address.ts';
import { frontServer } from './front.ts';
import { Limits, sessionOf } from './limits.ts';
import { Metrics } from './metrics.ts';
import policy from './policy.json';

let server: Server;
let port = 0;
const metrics = new Metrics();
const logged: string[] = [];
const log = pino({ level: 'info' }, { write: (line: string) => void logged.push(line) });
let handler: (request: IncomingMessage, response: ServerResponse) => Promise<void>;

beforeAll(async () => {
  server = frontServer((request, response) => handler(request, response), {
    hosts: new Set(),
    trustedProxies: readNetworks(''),
    log,
    metrics,
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  port = (server.address() as { port: number }).port;
});
afterAll(() => new Promise((resolve) => server.close(resolve)));
beforeEach(() => {
  logged.length = 0;
  handler = (request, response) => {
    response.end(JSON.stringify(request.headers));
    return Promise.resolve();
  };
});

const get = (path: string, headers: Record<string, string> = {}) =>
  fetch(`http://127.0.0.1:${port}${path}`, { headers });

test('figures are served on loopback in the text format, and nothing else is there', async () => {
  const own = new Metrics();
  own.answered('/jobs/3', 200, 0.02);
  const served = await own.listen(0);
  const at = `http://127.0.0.1:${(served.address() as { port: number }).port}`;
  const text = await (await fetch(`${at}/metrics`)).text();
  expect(text).toContain('umbral_request_seconds_count{kind="page",status="2xx"} 1');
  expect((await fetch(`${at}/other`)).status).toBe(404);
  await new Promise((resolve) => served.close(resolve));
});

test('with a certificate it speaks HTTPS, by the same rules', async () => {
  const folder = mkdtempSync(join(tmpdir(), 'umbral-front-'));
  const [key, cert] = [join(folder, 'key.pem'), join(folder, 'cert.pem')];
  const made = [
    'req',
    '-x509',
    '-newkey',
    'rsa:2048',
    '-nodes',
    '-days',
    '2',
    '-subj',
    '/CN=localhost',
    '-keyout',
    key,
  ];
  execFileSync('openssl', [...made, '-out', cert], { stdio: 'ignore' });
  const tls = { key: readFileSync(key), cert: readFileSync(cert) };
  rmSync(folder, { recursive: true });
  const secure = frontServer((request, response) => handler(request, response), {
    hosts: new Set(),
    trustedProxies: readNetworks(''),
    log,
    metrics: new Metrics(),
    tls,
  });
  secure.listen(0, '127.0.0.1');
  await once(secure, 'listening');
  const { port: at } = secure.address() as { port: number };
  const ask = async (host: string): Promise<number | undefined> => {
    const asked = secureRequest({
      host: '127.0.0.1',
      port: at,
      ca: tls.cert,
      servername: 'localhost',
      headers: { host },
    });
    asked.end();
    const [answer] = (await once(asked, 'response')) as [IncomingMessage];
    answer.resume();
    return answer.statusCode;
  };
  expect(await ask('localhost')).toBe(200);
  expect(await ask('elsewhere.example')).toBeGreaterThanOrEqual(400);
  await new Promise((resolve) => {
    secure.close(resolve);
    secure.closeAllConnections();
  });
});

describe('the door', () => {
  test('gives what may come in on, with what it found out and nothing that the sender claims of it', async () => {
    const claims = {
      'x-umbral-address': '10.0.0.1',
      'x-nonce': 'mine',
      'x-request-id': 'mine',
      'content-security-policy': 'mine',
    };
    const answer = await get('/jobs/3', claims);
    const seen = (await answer.json()) as Record<string, string>;
    expect(seen['x-umbral-address']).toBe('127.0.0.1');
    expect(answer.headers.get('x-request-id')).toBe(seen['x-request-id']);
    expect(seen['x-request-id']).not.toBe('mine');
    expect(answer.headers.get('content-security-policy')).toContain(`'nonce-${seen['x-nonce']}'`);
    const other = (await (await get('/')).json()) as Record<string, string>;
    expect(other['x-nonce']).not.toBe(seen['x-nonce']);
    expect(answer.headers.get('x-frame-options')).toBe('DENY');
  });

  test('keeps out what has no business here before anything is done for it, and logs it', async () => {
    handler = () => Promise.reject(new Error('it got through'));
    const asked = httpRequest({ port, host: '127.0.0.1', headers: { host: 'evil.example' } });
    asked.end();
    const [answer] = (await once(asked, 'response')) as [IncomingMessage];
    expect(answer.statusCode).toBe(421);
    answer.resume();
    expect(logged.join('')).toContain('"status":421');
    expect(await metrics.registry.metrics()).toContain('umbral_refused_total{status="421"} 1');
  });

  test('answers with a reference where something breaks, and logs it under the same', async () => {
    handler = () => Promise.reject(new Error('broken inside'));
    const answer = await get('/');
    expect(answer.status).toBe(500);
    const { reference, message } = (await answer.json()) as { reference: string; message: string };
    expect(message).toBe(`Something went wrong (reference ${reference}).`);
    expect(logged.some((line) => line.includes(reference) && line.includes('broken inside'))).toBe(true);
  });

  test('takes no headers without an end', async () => {
    const answer = await get('/', { 'x-long': 'x'.repeat(policy.maxHeaderBytes) }).catch(() => null);
    expect(answer?.status ?? 431).toBe(431);
  });

  test('leaves a request alone whose answer takes long, though nobody reads its body', async () => {
    const [was, silent] = [policy.bodyMs, policy.uploadSilentMs];
    Object.assign(policy, { bodyMs: 300, uploadSilentMs: 300 });
    handler = async (_request, response) => {
      const began = performance.now();
      while (performance.now() - began < 4 * policy.bodyMs) await setImmediate();
      response.end('late');
    };
    try {
      const answer = await fetch(`http://127.0.0.1:${port}/api/sample-data`, { method: 'POST' });
      expect(await answer.text()).toBe('late');
    } finally {
      Object.assign(policy, { bodyMs: was, uploadSilentMs: silent });
    }
  });

  test('ends a body in pieces that is larger than any that is meant', async () => {
    handler = async (request, response) => {
      for await (const piece of request) void piece;
      response.end('all of it');
    };
    const socket = connect(port, '127.0.0.1');
    socket.on('error', () => undefined);
    let said = '';
    socket.on('data', (d) => (said += d.toString()));
    socket.write('POST /api/recorder/arm HTTP/1.1\r\nhost: 127.0.0.1\r\ntransfer-encoding: chunked\r\n\r\n');
    const piece = Buffer.from(`10000\r\n${'x'.repeat(0x10000)}\r\n`);
    const timer = setInterval(() => !socket.destroyed && socket.write(piece), 5);
    // `once` of node:events would take the reset that the door sends for a failure of the test.
    await new Promise((resolve) => socket.once('close', resolve));
    clearInterval(timer);
    expect(said).not.toContain('all of it');
    expect(socket.bytesWritten).toBeGreaterThan(policy.maxBodyBytes);
  });

  test('counts a session wherever it asks from, and tells sessions apart without holding them', async () => {
    const limits = new Limits();
    const session = sessionOf({ cookie: 'a=b; umbral_session=secret-of-one; c=d' });
    expect(session).not.toBeNull();
    expect(session).not.toContain('secret');
    expect(sessionOf({ authorization: 'Bearer umbral_x' })).not.toBe(session);
    expect(sessionOf({ cookie: 'other=1' })).toBeNull();
    for (let n = 0; n < policy.changesPerMinute; n++)
      expect(await limits.wait({ address: `10.0.${n % 200}.1`, session }, 'POST', '/')).toBeNull();
    expect(await limits.wait({ address: '10.1.1.1', session }, 'POST', '/')).toBeGreaterThan(0);
    expect(await limits.wait({ address: '10.1.1.1', session: 'another' }, 'POST', '/')).toBeNull();
    // A bench tells more, and is counted by its token alone.
    for (let n = 0; n < policy.benchPerMinute; n++)
      expect(await limits.wait({ address: '10.2.2.2', session: 'bench' }, 'POST', '/api/bench/live')).toBeNull();
    expect(await limits.wait({ address: '10.2.2.2', session: 'bench' }, 'POST', '/api/bench/live')).toBeGreaterThan(0);
    expect(await limits.wait({ address: '10.2.2.2', session: 'bench 2' }, 'POST', '/api/bench/live')).toBeNull();
  });

  test('lets one address ask so often and no oftener, and says for how long to wait', async () => {
    const post = () => fetch(`http://127.0.0.1:${port}/sign-in`, { method: 'POST', body: 'x' });
    const statuses: number[] = [];
    for (let n = 0; n < policy.signInsPerMinute + 3; n++) statuses.push((await post()).status);
    expect(statuses.filter((s) => s === 200)).toHaveLength(policy.signInsPerMinute);
    const late = await post();
    expect(late.status).toBe(429);
    expect(Number(late.headers.get('retry-after'))).toBeGreaterThan(0);
    expect((await get('/')).status).toBe(200);
  });

  test('answers an action of a page in words that the page can show', async () => {
    const large = { method: 'POST', body: 'x'.repeat(policy.maxBodyBytes - 1), headers: { 'next-action': 'x' } };
    const answer = await fetch(`http://127.0.0.1:${port}/jobs/3`, large);
    expect([answer.status, answer.headers.get('content-type')]).toEqual([413, 'text/plain']);
    expect(await answer.text()).toBe('Refused: This is too large. At most 100 kB are accepted here.');
  });

  test.each([
    ['of every sort', (n: number) => n % 3],
    ['that have all sent something', (n: number) => n % 2],
  ])('a thousand half requests of one address, %s, keep nobody out', async (_, sort) => {
    handler = async (request, response) => {
      for await (const piece of request) void piece;
      response.end('fine');
    };
    const sockets = Array.from({ length: 1000 }, (_, n) => {
      const socket = connect(port, '127.0.0.1');
      socket.on('error', () => undefined);
      const body = 'POST /sign-in HTTP/1.1\r\nhost: 127.0.0.1\r\ncontent-length: 99\r\n\r\nhal';
      socket.write(['GET / HTTP/1.1\r\nhost: 127', body, ''][sort(n)]);
      return socket;
    });
    try {
      for (let n = 0; n < 20; n++) {
        expect(await (await get('/api/health')).text()).toBe('fine');
      }
      // One that sends, however slowly, is not the one that is ended.
      const body = new ReadableStream({
        async start(to) {
          for (let n = 0; n < 20; n++) {
            to.enqueue(Buffer.alloc(2000, 'x'));
            await setImmediate();
          }
          to.close();
        },
      });
      const init = { method: 'POST', body, duplex: 'half', headers: { connection: 'close' } } as RequestInit;
      expect(await (await fetch(`http://127.0.0.1:${port}/api/read`, init)).text()).toBe('fine');
    } finally {
      for (const socket of sockets) socket.destroy();
    }
  });

  test('tokens that are not known are tried so often from one address, and known ones go on beside them', async () => {
    const limits = new Limits();
    const stranger = (n: number) => ({ address: '10.0.0.9', session: `token ${n}`, isProgram: true });
    const bench = { address: '10.0.0.9', session: 'of a bench', isProgram: true };
    await limits.answered(bench, '/api/bench/live', 200);
    let waits: number | null = null;
    for (let n = 0; n <= policy.strangersPerMinute; n++) {
      waits = await limits.wait(stranger(n), 'POST', '/api/bench/live');
      // A page that anybody may see makes no token known.
      await limits.answered(stranger(n), '/sign-in', 200);
      if (waits === null) await limits.answered(stranger(n), '/api/bench/live', 401);
    }
    expect(waits).toBeGreaterThan(0);
    expect(await limits.wait(bench, 'POST', '/api/bench/live')).toBeNull();
    // One that was revoked is a stranger again.
    await limits.answered(bench, '/api/bench/live', 401);
    expect(await limits.wait(bench, 'POST', '/api/bench/live')).toBeGreaterThan(0);
  });
});
