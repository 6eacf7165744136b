import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import * as yup from 'yup';
import { markerEvents, readInput, type MarkerEvent } from '@umbral/core';
import { answerJson, holdsToken, listenForJson, Refusal } from '../http.ts';
import { bytesOfHex, frameField, hexOf } from '../dialect/index.ts';
import type { SeenReadings } from '../instrument/index.ts';
import { EventReader } from './event-reader.ts';
import policy from './policy.json';
import type { Finder, Place, TaughtBytes } from './finder.ts';
import { placeSchemaOf } from '../instrument/spec.ts';
import type { Station } from './station.ts';
import type { RecordingOf } from '../store/keeper.ts';

const named = { instrument: yup.string().strict().max(120).required() };
/** Of a window that reads a display; and what arming gave to the window that armed. */
const by = yup.string().strict().min(8).max(80).required();
const key = yup.string().strict().max(80);
/** Further instruments, by their keys. */
const keys = () => yup.array(named.instrument).max(20).default([]);
/** Who is signed in, and whose device is on the leads. */
const person = yup.number().strict().integer().positive().nullable().default(null);
/** Their name, for a recording that somebody else began. */
const who = yup.string().strict().max(120).default('');
const jobId = yup.number().strict().integer().positive().nullable().default(null);
/** What stands on a display; null where it is doubtful. */
const value = () => yup.number().strict().min(-policy.seenMost).max(policy.seenMost).nullable().defined();
const step = () => yup.number().strict().positive().max(1).nullable().defined();
/** A serial port with a speed, or an address; and its address on a bus. */
const place = () => yup.lazy((given: unknown) => placeSchemaOf(given)) as unknown as yup.MixedSchema<Place>;
const bytes = () =>
  yup
    .string()
    .strict()
    .max(3 * policy.listenedBytes);
/** A number as it was typed off a display. */
const shown = () => yup.string().strict().max(20).required();
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
    jobId,
    person,
  }),
  // Without a key the output itself says what is missing.
  output: yup.object({ ...named, on: yup.boolean().strict().required(), key: key.default('') }),
  alive: yup.object({ key: key.min(8).required() }),
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
  stop: yup.object({ ...named, along: keys(), off: keys(), person, who }),
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
    person,
    who,
    why: yup.string().strict().max(200).default(''),
  }),
  page: yup.object({
    ...named,
    by,
    does: yup.string().oneOf(['open', 'pass', 'pull', 'close']).required(),
    /** What arrived: how long ago, seconds, and bytes in hexadecimal. */
    pieces: yup
      .array(yup.tuple([yup.number().strict().min(0).max(60).required(), bytes().required()]).required())
      .max(policy.piecesAtOnce)
      .default([]),
    why: yup.string().strict().max(200).default(''),
    person,
    who,
  }),
  find: yup.object({ place: place() }),
  try: yup.object({ place: place(), dialect: yup.string().strict().max(120).required() }),
  listen: yup.object({
    place: place(),
    seconds: yup.number().strict().min(0.5).max(10).required(),
    request: yup
      .object({ bytes: bytes().min(2).required(), everyMs: yup.number().strict().min(5).max(60_000).required() })
      .nullable()
      .default(null),
  }),
  guess: yup.object({
    bytes: bytes().required(),
    framing: yup.object().required(),
    looks: yup
      .array(yup.object({ frame: bytes().required(), volts: shown(), amps: shown() }))
      .max(20)
      .required(),
    marked: yup
      .object({ volts: frameField().nullable().default(null), amps: frameField().nullable().default(null) })
      .default({ volts: null, amps: null }),
  }),
  dialect: yup.object({
    text: yup.string().strict().max(policy.mostDialect).required(),
    replaces: yup.boolean().strict().default(false),
  }),
  spoken: yup.object({ id: yup.string().strict().max(120).required() }),
  mark: yup.object({
    ...named,
    event: yup.string().oneOf(markerEvents).required(),
    note: yup.string().strict().max(300).default(''),
    /** How long ago it was, where it is told late; seconds. */
    agoS: yup.number().strict().min(0).max(600).default(0),
    person,
    who,
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
    private readonly bench: {
      settings: () => unknown;
      reload: () => Promise<unknown>;
      health: () => unknown;
      watch: () => void;
      finder: Finder;
    },
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
    this.bench.watch();
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
    if (path === 'GET /places' || path === 'POST /places') return this.bench.finder.places();
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

  /**
   * Ends recordings together: none of them takes what comes from now on, then outputs go off, then they are finished.
   *
   * @returns the recordings, and what kept an output from going off, if anything did
   */
  private async stopped({ instrument, along, off, ...given }: yup.InferType<typeof schemas.stop>): Promise<unknown> {
    const stations = [instrument, ...along].map((key) => this.station(key));
    const supplies = off.map((key) => this.station(key));
    for (const station of stations) {
      station.stoppedBy(given);
      station.holdRecording();
    }
    const offs = await Promise.allSettled(supplies.map((station) => station.switchOff()));
    const [recording, ...others] = await Promise.all(stations.map((station) => station.stopRecording()));
    const problems = offs.flatMap((o) => (o.status === 'rejected' ? [(o.reason as Error).message] : []));
    return { recording, along: others, problem: problems.join(' ') || null };
  }

  /** What a page passes on of an instrument that is plugged into it, and what it is to send there. */
  private async passed({
    instrument,
    by,
    does,
    pieces,
    why,
    ...given
  }: yup.InferType<typeof schemas.page>): Promise<unknown> {
    const station = this.station(instrument);
    const { page, spec } = station;
    const foreign = (): Refusal =>
      new Refusal(`Another window is connected to ${spec.name}. Disconnect it there first.`);
    if (does === 'open') {
      const before = page.window;
      if (!page.attach(by)) throw foreign();
      if (before !== null && before !== by) station.continuedBy(given);
      return { lastWords: page.lastWords.map(hexOf) };
    }
    if (does === 'close') {
      page.detach(by, why || 'it was disconnected in its window');
      return {};
    }
    if (does === 'pull') {
      const send = await page.pull(by, policy.pullMs);
      if (!send) throw foreign();
      return { send: send.map(hexOf) };
    }
    if (
      !page.take(
        by,
        pieces.map(([ageS, hex]) => ({ ageS, bytes: bytesOfHex(hex) })),
      )
    )
      throw foreign();
    return {};
  }

  private async act(name: keyof typeof schemas, body: unknown): Promise<unknown> {
    const valid = <T extends yup.AnyObject>(schema: yup.ObjectSchema<T>) => readInput(schema, body);
    switch (name) {
      case 'arm': {
        const { instrument, volts, limitA, bounds, jobId, person } = valid(schemas.arm);
        return this.station(instrument).arm(volts, limitA, bounds, { jobId, person });
      }
      case 'output': {
        const { instrument, on, key } = valid(schemas.output);
        await (on ? this.station(instrument).switchOn(key) : this.station(instrument).switchOff());
        return {};
      }
      case 'alive': {
        const { key } = valid(schemas.alive);
        const heard = [...this.stations.values()].map((station) => station.alive(key));
        return { isHere: heard.includes(true) };
      }
      case 'record': {
        const { instrument, instrumentSettings, ...rest } = valid(schemas.record);
        const of = { ...rest, instrument: instrumentSettings } as unknown as RecordingOf;
        return { recording: await this.station(instrument).record(of) };
      }
      case 'stop':
        return this.stopped(valid(schemas.stop));
      case 'average': {
        const { instrument, seconds } = valid(schemas.average);
        return this.station(instrument).average(seconds);
      }
      case 'seen': {
        const { instrument, steps, person: by, who: name, ...readings } = valid(schemas.seen);
        this.station(instrument).take(readings as SeenReadings, steps, { person: by, who: name });
        return {};
      }
      case 'page':
        return this.passed(valid(schemas.page));
      case 'find':
        return this.bench.finder.find(valid(schemas.find).place as Place);
      case 'try': {
        const { place, dialect } = valid(schemas.try);
        return this.bench.finder.try(place as Place, dialect);
      }
      case 'listen': {
        const { place, seconds, request } = valid(schemas.listen);
        return this.bench.finder.listen(place as Place, seconds, request);
      }
      case 'guess':
        return this.bench.finder.guess(valid(schemas.guess) as unknown as TaughtBytes);
      case 'dialect': {
        const { text, replaces } = valid(schemas.dialect);
        const kept = this.bench.finder.keep(text, replaces);
        await this.bench.reload();
        return kept;
      }
      case 'spoken':
        return { text: this.bench.finder.textOf(valid(schemas.spoken).id) };
      case 'mark': {
        const { instrument, event, note, agoS, ...given } = valid(schemas.mark);
        this.station(instrument).mark(event as MarkerEvent, note, agoS, given);
        return {};
      }
    }
  }
}

/** Bytes that wait for a reader before it is told later. */
const maxWaiting = 4_000_000;
