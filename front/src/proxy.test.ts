import { EventEmitter, once } from 'node:events';
import { createServer, request as ask, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import pino from 'pino';
import { readNetworks } from './address.ts';
import { Heartbeats, isAlive } from './alive.ts';
import { frontServer } from './front.ts';
import { Metrics } from './metrics.ts';
import { oneLongBodyAtATime } from './long-bodies.ts';
import policy from './policy.json';
import { Proxy } from './proxy.ts';

const closing: Server[] = [];
afterEach(async () => {
  for (const server of closing.splice(0)) {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  }
});

async function listening(server: Server): Promise<number> {
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  closing.push(server);
  return (server.address() as AddressInfo).port;
}

type Pages = (request: IncomingMessage, response: ServerResponse) => unknown;

/** A door in front of pages, and of a recorder that knows one key. */
async function door(pages: Pages) {
  const asked: string[] = [];
  const told: string[] = [];
  const pagesPort = await listening(
    createServer((request, response) => {
      asked.push(`${request.method} ${request.url}`);
      void pages(request, response);
    }),
  );
  const recorderPort = await listening(
    createServer((request, response) => {
      let text = '';
      request.on('data', (piece: Buffer) => (text += piece.toString()));
      request.on('end', () => {
        const { key } = JSON.parse(text) as { key: string };
        told.push(key);
        response.end(JSON.stringify({ isHere: key === 'key-of-this-window' }));
      });
    }),
  );
  const proxy = new Proxy(pagesPort, 'the-secret');
  let passed: Promise<void> = Promise.resolve();
  const pass = oneLongBodyAtATime(proxy.pass);
  const heartbeats = new Heartbeats(proxy, { url: `http://127.0.0.1:${recorderPort}`, token: 'x' });
  const port = await listening(
    frontServer(
      (request, response) => (passed = isAlive(request) ? heartbeats.take(request, response) : pass(request, response)),
      { hosts: new Set(), trustedProxies: readNetworks(''), log: pino({ level: 'silent' }), metrics: new Metrics() },
    ),
  );
  const beat = (key: string) =>
    fetch(`http://127.0.0.1:${port}/api/recorder/alive`, { method: 'POST', body: JSON.stringify({ key }) });
  /** The end of what was asked last, with what went wrong. */
  const left = () => passed;
  return { url: `http://127.0.0.1:${port}`, port, asked, told, beat, left };
}

test('what is asked and answered goes through as it is, and the pages know the door', async () => {
  const { url } = await door(async (request, response) => {
    let text = '';
    for await (const piece of request) text += String(piece);
    response.setHeader('set-cookie', ['a=1; Path=/', 'b=2; Path=/']);
    response.writeHead(201, { 'x-seen': request.headers['x-umbral-door'] as string });
    response.end(`${request.method} ${request.url} ${request.headers['x-umbral-address']} ${text.length}`);
  });
  const answer = await fetch(`${url}/api/jobs/3?a=%C3%BC`, {
    method: 'POST',
    body: 'x'.repeat(300_000),
    headers: { 'x-umbral-door': 'a guess', 'x-umbral-address': '10.0.0.1' },
  });
  expect(answer.status).toBe(201);
  expect(answer.headers.get('x-seen')).toBe('the-secret');
  expect(answer.headers.getSetCookie()).toEqual(['a=1; Path=/', 'b=2; Path=/']);
  expect(answer.headers.get('x-frame-options')).toBe('DENY');
  expect(await answer.text()).toBe('POST /api/jobs/3?a=%C3%BC 127.0.0.1 300000');
});

test('a stream goes through as it comes, and ends at the pages when nobody listens any more', async () => {
  const gone = new Promise<void>((resolve) => {
    void door((_, response) => {
      response.writeHead(200, { 'content-type': 'text/event-stream' });
      response.write('data: 1\n\n');
      response.once('close', () => resolve());
    }).then(async ({ port }) => {
      const listener = ask({ port, host: '127.0.0.1', path: '/api/recorder/events' });
      listener.end();
      const [answer] = (await once(listener, 'response')) as [IncomingMessage];
      const [first] = (await once(answer, 'data')) as [Buffer];
      expect(first.toString()).toBe('data: 1\n\n');
      answer.destroy();
    });
  });
  await gone;
});

test('an action whose form nobody can read is refused in words, and a page that fails stays a failure', async () => {
  const { url } = await door((_, response) => response.writeHead(500).end('E{"digest":"895292224"}'));
  const action = await fetch(url, { method: 'POST', body: '["$F1"]', headers: { 'next-action': 'x' } });
  expect(action.status).toBe(422);
  expect(await action.text()).toMatch(/^The server could not read this form/);
  expect((await fetch(url)).status).toBe(500);
});

test('whoever leaves before an answer is no sign of pages that are away', async () => {
  const [leaves, gone] = [new EventEmitter(), new EventEmitter()];
  const { port, left } = await door((_, response) => {
    leaves.emit('asked');
    response.once('close', () => gone.emit('gone'));
  });
  const isAsked = once(leaves, 'asked');
  const isGone = once(gone, 'gone');
  const asked = ask({ port, path: '/jobs/1' });
  asked.once('error', () => undefined);
  asked.end();
  await isAsked;
  asked.destroy();
  await isGone;
  expect(await left()).toBeUndefined();
});

test('pages that are not there are said to be being started', async () => {
  const { url } = await door((request) => request.socket.destroy());
  const answer = await fetch(url);
  expect(answer.status).toBe(503);
  expect(await answer.text()).toContain('The server is starting');
});

test('a window that holds an output is heard of however long the pages take', async () => {
  // Nothing is ever answered: as while they are busy with something else.
  const { beat, told, asked } = await door(() => undefined);
  for (let n = 0; n < 12; n++) expect((await beat('key-of-this-window')).status).toBe(200);
  expect(told).toHaveLength(12);
  // They are asked about the window once at a time, not twelve times.
  expect(asked).toEqual(['POST /api/recorder/alive']);
});

test('one that may not be there any more is heard of no longer', async () => {
  const { beat, told } = await door((_, response) => response.writeHead(401).end('{}'));
  await beat('key-of-this-window');
  let last: Response | null = null;
  for (let n = 0; n < 50 && last?.status !== 401; n++) last = await beat('key-of-this-window');
  expect(last?.status).toBe(401);
  const before = told.length;
  await beat('key-of-this-window');
  expect(told).toHaveLength(before);
});

test('what was armed at a bench elsewhere, and what is no heartbeat, is for the pages', async () => {
  const { beat, url, asked } = await door(async (request, response) => {
    let text = '';
    for await (const piece of request) text += String(piece);
    response.end(text);
  });
  expect(await (await beat('key-of-a-bench-elsewhere')).text()).toContain('key-of-a-bench-elsewhere');
  for (const body of ['', '{', '{"key":7}', '[]', 'null'])
    expect((await fetch(`${url}/api/recorder/alive`, { method: 'POST', body })).status).toBe(200);
  expect(asked).toHaveLength(6);
  const large = await fetch(`${url}/api/recorder/alive`, { method: 'POST', body: 'x'.repeat(5000) }).catch(() => null);
  expect(large?.status ?? 413).toBe(413);
  expect(asked).toHaveLength(6);
});

describe('long bodies that pages read themselves', () => {
  /** Pages that answer when they are told to, and say what they are reading. */
  async function slowPages() {
    const reading: string[] = [];
    const answers: (() => void)[] = [];
    const come = new EventEmitter();
    const { url } = await door(async (request, response) => {
      let size = 0;
      for await (const piece of request) size += (piece as Buffer).length;
      reading.push(`${request.url} ${size}`);
      answers.push(() => response.end(String(size)));
      come.emit('one');
    });
    const until = async (count: number): Promise<void> => {
      while (reading.length < count) await once(come, 'one');
    };
    return { url, reading, answers, until };
  }
  const long = 'x'.repeat(policy.longBodyBytes + 1);
  const post = (at: string, body: BodyInit) =>
    fetch(at, { method: 'POST', body, ...(typeof body === 'string' ? {} : { duplex: 'half' }) } as RequestInit);

  test('come there one after another, and short ones between them', async () => {
    const { url, reading, answers, until } = await slowPages();
    const first = post(`${url}/first`, long);
    await until(1);
    const second = post(`${url}/second`, long);
    const short = post(`${url}/short`, 'x');
    const file = post(`${url}/api/packages`, long);
    await until(3);
    expect([...reading].sort()).toEqual([`/api/packages ${long.length}`, `/first ${long.length}`, '/short 1']);
    answers.forEach((answer) => answer());
    await until(4);
    answers.at(-1)?.();
    const texts = await Promise.all([first, second, short, file].map(async (answer) => (await answer).text()));
    expect(texts).toEqual([long, long, 'x', long].map((body) => String(body.length)));
  });

  test('do not wait for an answer that takes long, nor for somebody who has gone', async () => {
    const { url, reading, answers, until } = await slowPages();
    const first = post(`${url}/first`, long);
    await until(1);
    const left = ask(`${url}/left`, { method: 'POST' }).on('error', () => undefined);
    left.end(long);
    await once(left, 'finish');
    const second = post(`${url}/second`, long);
    left.destroy();
    await until(2);
    expect(reading[1]).toBe(`/second ${long.length}`);
    answers.forEach((answer) => answer());
    await Promise.all([first, second]);
  });

  test('are counted where they come in pieces', async () => {
    const { url, reading, answers, until } = await slowPages();
    const pieces = (count: number) =>
      new ReadableStream({
        start(controller) {
          for (let k = 0; k < count; k++) controller.enqueue(Buffer.from(long));
          controller.close();
        },
      });
    const fits = post(`${url}/fits`, pieces(3));
    await until(1);
    answers[0]();
    expect(await (await fits).text()).toBe(String(3 * long.length));
    const many = Math.ceil(policy.maxActionBytes / long.length) + 1;
    const answer = await post(`${url}/many`, pieces(many)).catch(() => null);
    expect(answer?.status ?? 413).toBe(413);
    expect(reading).toHaveLength(1);
  });
});
