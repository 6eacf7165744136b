import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import * as yup from 'yup';
import { markerEvents, type MarkerEvent } from '@umbral/core';
import { answerJson, holdsToken, listenForJson, Refusal } from '../http.ts';
import type { SeenReadings } from '../instrument/index.ts';
import type { SampleBlock } from '../store/samples.ts';
import policy from './policy.json';
import type { Station } from './station.ts';
import type { RecordingOf } from './keeper.ts';

const named = { instrument: yup.string().strict().max(120).required() };
const by = yup.string().strict().min(8).max(80).required();
/** Who is signed in, and whose device is on the leads. */
const person = yup.number().strict().integer().positive().nullable().default(null);
const jobId = yup.number().strict().integer().positive().nullable().default(null);
/** What stands on a display; null where it is doubtful. */
const value = () => yup.number().strict().min(-policy.seenMost).max(policy.seenMost).nullable().defined();
const step = () => yup.number().strict().positive().max(1).nullable().defined();
const schemas = {
  arm: yup.object({
    ...named,
    volts: yup.number().strict().required(),
    limitA: yup.number().strict().required(),
    bounds: yup
      .object({
        maxV: yup.number().strict().positive().required(),
        maxA: yup.number().strict().positive().required(),
        why: yup.string().strict().max(300).required(),
      })
      .required(),
    by,
    jobId,
    person,
  }),
  output: yup.object({ ...named, on: yup.boolean().strict().required(), by }),
  alive: yup.object({ by }),
  record: yup.object({
    ...named,
    jobId: yup.number().strict().integer().positive().required(),
    feed: yup.string().oneOf(['battery', 'usb-c', 'dc-in']).required(),
    setup: yup.object().required(),
    instrumentSettings: yup.object().default({}),
    after: yup.string().strict().max(80).nullable().default(null),
    stopAfterS: yup.number().strict().positive().max(86_400).nullable().default(null),
    person,
  }),
  stop: yup.object(named),
  average: yup.object({ ...named, seconds: yup.number().strict().min(0.1).max(10).required() }),
  seen: yup.object({
    ...named,
    by,
    at: yup.number().strict().required(),
    samples: yup
      .array(yup.tuple([yup.number().strict().required(), value(), value()]).required())
      .max(policy.seenAtOnce)
      .required(),
    steps: yup.object({ volts: step(), amps: step() }).required(),
    why: yup.string().strict().max(200).default(''),
  }),
  mark: yup.object({
    ...named,
    event: yup.string().oneOf(markerEvents).required(),
    note: yup.string().strict().max(300).default(''),
    /** How long ago it was, where it is told late; seconds. */
    agoS: yup.number().strict().min(0).max(600).default(0),
  }),
};

/**
 * The recorder's control channel: JSON over HTTP on loopback, for whoever has the token. `GET /events` streams what
 * changes, with the samples of every recording; a reader that comes back with the last id that it saw misses nothing.
 */
export class ControlServer {
  private readonly streams = new Set<EventReader>();
  private readonly server = createServer((request, response) => void this.serve(request, response));
  private readonly timers: NodeJS.Timeout[] = [];
  private stateChanged = true;
  private watching = false;
  private sent = 0;

  constructor(
    private readonly stations: ReadonlyMap<string, Station>,
    private readonly token: string,
    private readonly bench: { settings: () => unknown; reload: () => Promise<unknown>; health: () => unknown },
  ) {}

  /** To be called when something changed that others should see. */
  readonly changed = (): void => {
    this.stateChanged = true;
  };

  /** Watches over the outputs and tells readers, from now on. */
  begin(): void {
    this.timers.push(
      setInterval(() => this.send(), policy.sendEveryMs),
      setInterval(() => void this.watchOver(), 250),
    );
  }

  listen(port: number): Promise<number> {
    return listenForJson(this.server, port);
  }

  async close(): Promise<void> {
    this.timers.forEach(clearInterval);
    for (const stream of this.streams) stream.end();
    if (this.server.listening) await new Promise((resolve) => this.server.close(resolve));
  }

  /** All at once: one supply that answers late keeps no other on. */
  private async watchOver(): Promise<void> {
    if (this.watching) return;
    this.watching = true;
    await Promise.all([...this.stations.values()].map((s) => s.watchOver()));
    this.watching = false;
  }

  private states() {
    return [...this.stations.values()].map((s) => s.state);
  }

  private send(): void {
    const states = this.states();
    const busy = states.some((s) => s.recording !== null || s.armed !== null);
    // Readings go on changing while nothing else does.
    const isTurn = ++this.sent % policy.idleEvery === 0;
    const health = this.stateChanged || isTurn ? this.bench.health() : null;
    for (const stream of this.streams) stream.send(this.stations, states, this.stateChanged || busy || isTurn, health);
    this.stateChanged = false;
  }

  private async serve(request: IncomingMessage, response: ServerResponse): Promise<void> {
    if (request.method === 'GET' && request.url === '/events' && holdsToken(request, this.token))
      return this.stream(request, response);
    await answerJson(request, response, this.token, (path, body) => this.handle(path, body));
  }

  /**
   * Does what was asked for.
   *
   * @param path as `POST /arm`
   * @returns what is answered; undefined for what is not there
   * @throws {Refusal} for what cannot be, {ValidationError} for a body that is none
   */
  handle(path: string, body: unknown): unknown {
    if (path === 'GET /state') return this.states();
    if (path === 'GET /health') return this.bench.health();
    if (path === 'GET /settings') return this.bench.settings();
    if (path === 'POST /reload') return this.bench.reload();
    const name = path.replace('POST /', '');
    return Object.hasOwn(schemas, name) ? this.act(name as keyof typeof schemas, body) : undefined;
  }

  /** Tells a reader of everything that happens from now on, as the streams of events are told. */
  tell(reader: EventReader): void {
    this.streams.add(reader);
  }

  private stream(request: IncomingMessage, response: ServerResponse): void {
    response.writeHead(200, { 'content-type': 'text/event-stream', 'cache-control': 'no-store' });
    const stream = new EventReader(
      {
        send: (event, value, id) =>
          void response.write(`event: ${event}\n${id ? `id: ${id}\n` : ''}data: ${JSON.stringify(value)}\n\n`),
        beat: () => void response.write(': beat\n\n'),
        isFull: () => response.writableLength > maxWaiting,
        end: () => void response.end(),
      },
      request.headers['last-event-id'],
    );
    this.streams.add(stream);
    request.on('close', () => this.streams.delete(stream));
    stream.send(this.stations, this.states(), true, this.bench.health());
  }

  private station(key: string): Station {
    const found = this.stations.get(key);
    if (!found) throw new Refusal(`There is no instrument "${key}".`);
    return found;
  }

  private async act(name: keyof typeof schemas, body: unknown): Promise<unknown> {
    const valid = <T extends yup.AnyObject>(schema: yup.ObjectSchema<T>) => schema.validateSync(body);
    switch (name) {
      case 'arm': {
        const { instrument, volts, limitA, bounds, by, jobId, person } = valid(schemas.arm);
        return this.station(instrument).arm(volts, limitA, bounds, by, { jobId, person });
      }
      case 'output': {
        const { instrument, on, by } = valid(schemas.output);
        await this.station(instrument).output(on, by);
        return {};
      }
      case 'alive': {
        const { by } = valid(schemas.alive);
        for (const station of this.stations.values()) station.alive(by);
        return {};
      }
      case 'record': {
        const { instrument, instrumentSettings, ...rest } = valid(schemas.record);
        const of = { ...rest, instrument: instrumentSettings } as unknown as RecordingOf;
        return { recording: await this.station(instrument).record(of) };
      }
      case 'stop':
        return { recording: await this.station(valid(schemas.stop).instrument).stopRecording() };
      case 'average': {
        const { instrument, seconds } = valid(schemas.average);
        return this.station(instrument).average(seconds);
      }
      case 'seen': {
        const { instrument, steps, ...readings } = valid(schemas.seen);
        this.station(instrument).take(readings as SeenReadings, steps);
        return {};
      }
      case 'mark': {
        const { instrument, event, note, agoS } = valid(schemas.mark);
        this.station(instrument).mark(event as MarkerEvent, note, agoS);
        return {};
      }
    }
  }
}

function plain({ t, v, i }: SampleBlock): { t: number[]; v: number[]; i: number[] } {
  return { t: Array.from(t), v: Array.from(v), i: Array.from(i) };
}

/** Bytes that wait for a reader before it is told later. */
const maxWaiting = 4_000_000;

/** Where events go. */
export interface EventSink {
  /** @param id `recording:rows` pairs: how far a reader has come who was told this */
  send(event: string, value: unknown, id: string): void;
  /** Nothing happens, and we are still there. */
  beat(): void;
  /** It does not keep up: it gets its samples later, not twice the memory. */
  isFull(): boolean;
  end(): void;
}

/** One reader of the events, and how far it has come in each recording. */
export class EventReader {
  private readonly rows = new Map<number, number>();
  private beatAt = performance.now();

  /** @param lastId `recording:rows` pairs, as this reader was told them */
  constructor(
    private readonly sink: EventSink,
    lastId?: string | string[],
  ) {
    for (const pair of String(lastId ?? '').split(',')) {
      const [recording, rows] = pair.split(':').map(Number);
      if (Number.isInteger(recording) && Number.isInteger(rows) && rows >= 0) this.rows.set(recording, rows);
    }
  }

  end(): void {
    this.sink.end();
  }

  /** What was told may not have arrived: all of it is told again. */
  startAgain(): void {
    this.rows.clear();
  }

  send(
    stations: ReadonlyMap<string, Station>,
    states: Station['state'][],
    withState: boolean,
    health: unknown = null,
  ): void {
    if (this.sink.isFull()) return;
    if (withState) this.write('state', states);
    if (health !== null) this.write('health', health);
    for (const { key, recording } of states) {
      if (!recording) continue;
      const from = this.rows.get(recording.id) ?? 0;
      const found = stations.get(key)?.since(recording.id, from);
      if (!found) continue;
      this.rows.set(recording.id, found.rows);
      const of = { instrument: key, recording: recording.id };
      if ('outline' in found) this.write('outline', { ...of, rows: found.rows, outline: found.outline });
      else this.write('samples', { ...of, from, ...plain(found.samples) });
    }
    // A recording that is over is asked for no more.
    for (const id of this.rows.keys()) if (!states.some((s) => s.recording?.id === id)) this.rows.delete(id);
    if (performance.now() - this.beatAt > 15_000) this.sink.beat();
  }

  private write(event: string, value: unknown): void {
    const id = [...this.rows].map(([recording, rows]) => `${recording}:${rows}`).join(',');
    this.beatAt = performance.now();
    this.sink.send(event, value, id);
  }
}
