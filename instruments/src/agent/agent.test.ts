import { mkdtempSync, rmSync } from 'node:fs';
import { once } from 'node:events';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unknownSetup } from '@umbral/core';
import { SimulatedBench, SimulatedMeter, SimulatedSupply } from '../simulated/index.ts';
import { now, phone, until } from '../testing/recorders.ts';
import { Agent } from './agent.ts';
import { mergeSamples } from './uplink.ts';

interface Kept {
  does: string;
  startedAt?: string;
  seq?: number;
  block?: { rows: number };
  key?: string;
}

/** A server as a bench meets it, which can be told to be away or to have another clock. */
class FakeServer {
  readonly kept: Kept[] = [];
  readonly live: { events: { event: string }[] }[] = [];
  readonly answers: {
    id: string;
    status: number;
    value: { recording?: number | null; problem?: string; key?: string };
  }[] = [];
  private commands: ServerResponse | null = null;
  instruments: { key: string; spec: object }[] = [];
  isAway = false;
  /** How often somebody was turned away while it was away. */
  refused = 0;
  clockOffMs = 0;
  private readonly server = createServer((request, response) => void this.serve(request, response));

  async listen(): Promise<string> {
    this.server.listen(0, '127.0.0.1');
    await once(this.server, 'listening');
    return `http://127.0.0.1:${(this.server.address() as { port: number }).port}`;
  }

  tell(id: string | null, path: string, body: object): void {
    this.commands?.write(`data: ${JSON.stringify({ id, path, body })}\n\n`);
  }

  async ask(path: string, body: object) {
    const id = `${path}-${this.answers.length}-${now()}`;
    this.tell(id, path, body);
    return until(() => this.answers.find((a) => a.id === id) ?? null, `an answer to ${path}`);
  }

  goAway(): void {
    this.isAway = true;
    this.commands?.destroy();
  }

  async close(): Promise<void> {
    this.commands?.destroy();
    this.server.closeAllConnections();
    await new Promise((resolve) => this.server.close(resolve));
  }

  private async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (this.isAway) {
      this.refused++;
      return void request.socket.destroy();
    }
    const path = request.url ?? '';
    if (path.startsWith('/api/bench/commands')) {
      this.commands = response;
      response.writeHead(200, { 'content-type': 'text/event-stream' });
      response.write(': here\n\n');
      const beat = setInterval(() => response.write(': beat\n\n'), 1000);
      response.on('close', () => clearInterval(beat));
      return;
    }
    let text = '';
    for await (const piece of request) text += String(piece);
    const body = JSON.parse(text) as Record<string, unknown>;
    const value = this.value(path, body);
    response.end(JSON.stringify({ ok: true, value }));
  }

  private value(path: string, body: Record<string, unknown>): unknown {
    if (path === '/api/bench/hello') return { now: new Date(Date.now() + this.clockOffMs).toISOString() };
    if (path === '/api/bench/instruments') return { instruments: this.instruments, networks: [] };
    if (path === '/api/bench/left') return [];
    if (path === '/api/bench/live') this.live.push(body as never);
    if (path === '/api/bench/answer') this.answers.push(body as never);
    if (path === '/api/bench/keep') {
      this.kept.push(body as unknown as Kept);
      return body.does === 'begin' ? 41 : null;
    }
    return null;
  }
}

const closing: (() => unknown)[] = [];
afterEach(async () => {
  for (const close of closing.splice(0).reverse()) await close();
});

async function bench(server: FakeServer, said: string[] = []) {
  const url = await server.listen();
  closing.push(() => server.close());
  const device = new SimulatedBench(phone, [], now);
  const supply = new SimulatedSupply(device);
  const meter = new SimulatedMeter(device, { rateHz: 200 });
  closing.push(
    () => supply.close(),
    () => meter.close(),
  );
  const spec = (key: string, kind: string, dialect: string, port: number) => ({
    key,
    spec: { key, name: key, kind, transport: { kind: 'tcp', host: '127.0.0.1', port }, dialect },
  });
  server.instruments = [
    spec('supply', 'supply', 'scpi-usual', await supply.listen()),
    spec('meter', 'meter', 'lines-usual', await meter.listen()),
  ];
  const folder = mkdtempSync(join(tmpdir(), 'umbral-agent-'));
  closing.push(() => rmSync(folder, { recursive: true, force: true }));
  const agent = new Agent({
    server: url,
    token: 'umbral_x',
    name: 'Van',
    folder,
    say: (t) => said.push(t),
    guard: null,
  });
  await agent.start();
  closing.push(() => agent.stop(AbortSignal.timeout(2000)));
  await until(() => server.live.some((l) => l.events.some((e) => e.event === 'state')), 'it tells its state');
  return { supply, agent };
}

const record = { instrument: 'meter', jobId: 7, feed: 'usb-c', setup: unknownSetup };

describe('a bench elsewhere', () => {
  test('does what it is told once, though it is told twice, and says what it refuses', async () => {
    const server = new FakeServer();
    await bench(server);
    const refused = await server.ask('POST /record', { instrument: 'lamp', jobId: 7, feed: 'battery', setup: {} });
    expect(refused).toMatchObject({ status: 409, value: { problem: 'There is no instrument "lamp".' } });
    expect(await server.ask('POST /nothing', {})).toMatchObject({ status: 404 });
    await until(async () => (await server.ask('POST /record', record)).status === 200, 'it records');
    server.tell('once', 'POST /stop', { instrument: 'meter' });
    server.tell('once', 'POST /stop', { instrument: 'meter' });
    await until(() => server.answers.some((a) => a.id === 'once'), 'stopped');
    expect(server.answers.filter((a) => a.id === 'once')).toHaveLength(1);
    const blocks = server.kept.filter((k) => k.does === 'block');
    expect(blocks.map((b) => b.seq)).toEqual(blocks.map((_, k) => k));
    expect(server.kept.at(-1)?.does).toBe('end');
  });

  test('goes on recording while the server is away, and hands over what came without a hole', async () => {
    const server = new FakeServer();
    await bench(server);
    await until(async () => (await server.ask('POST /record', record)).status === 200, 'it records');
    await until(() => server.kept.some((k) => k.does === 'block'), 'blocks');
    server.goAway();
    await until(() => server.refused >= 3, 'it asked several times in vain');
    server.isAway = false;
    await until(async () => server.kept.filter((k) => k.does === 'block').length > 6, 'handed over', 15);
    const seqs = [...new Set(server.kept.flatMap((k) => k.seq ?? []))].sort((a, b) => a - b);
    expect(seqs).toEqual(seqs.map((_, k) => k));
    const rows = new Map(server.kept.filter((k) => k.does === 'block').map((k) => [k.seq, k.block?.rows ?? 0]));
    expect([...rows.values()].reduce((a, b) => a + b, 0)).toBeGreaterThan(200 * 3);
  });

  test('switches off when the server is away and nobody can say that they watch', async () => {
    const server = new FakeServer();
    const { supply } = await bench(server);
    const bounds = { maxV: 4.4, maxA: 3, why: 'full battery' };
    const arm = { instrument: 'supply', volts: 3.8, limitA: 1, bounds };
    const { key } = await until(async () => {
      const { status, value } = await server.ask('POST /arm', arm);
      return status === 200 && value;
    }, 'armed');
    await server.ask('POST /output', { instrument: 'supply', on: true, key });
    expect(supply.panel.on).toBe(true);
    server.goAway();
    await until(() => !supply.panel.on, 'off', 5);
  });

  test('with a clock that is wrong says so and stamps with the server’s time', async () => {
    const server = new FakeServer();
    server.clockOffMs = 3_600_000;
    const said: string[] = [];
    await bench(server, said);
    expect(said.join('\n')).toMatch(
      /The clock of this computer is 3(599|600|601) s slow\. The server's time is used\./,
    );
    await until(async () => (await server.ask('POST /record', record)).status === 200, 'it records');
    const began = Date.parse(server.kept.find((k) => k.does === 'begin')?.startedAt ?? '');
    expect(Math.abs(began - (Date.now() + 3_600_000))).toBeLessThan(5000);
  });
});

describe('what is told together', () => {
  const samples = (recording: number, from: number, ...t: number[]) => ({
    event: 'samples',
    value: { recording, from, t, v: t, i: t },
  });
  test('is as little as it can be: the last state, samples that follow each other as one', () => {
    expect(
      mergeSamples([
        { event: 'state', value: 1 },
        samples(1, 0, 0, 1),
        { event: 'state', value: 2 },
        samples(2, 5, 9),
        samples(1, 2, 2, 3),
      ]),
    ).toEqual([{ event: 'state', value: 2 }, samples(1, 0, 0, 1, 2, 3), samples(2, 5, 9)]);
  });
});
