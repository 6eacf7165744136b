import {
  bytesOfHex,
  decoderFor,
  isAsked,
  type AskedDialect,
  type Dialect,
  type MeterReading,
  type SentDialect,
} from '../dialect/index.ts';
import { AnswerProblem, sayBytes, supplyFor } from '../instrument/index.ts';
import { bytesOf, type Connection, type Transport } from '../transport/index.ts';
import policy from './policy.json';

/** What an instrument showed when it was tried. Volts, amperes, readings a second. */
export interface Tried {
  /** What it says of itself. */
  says: string;
  volts: number;
  amps: number;
  /** What a multimeter shows, in the place of the two; null for any other instrument. */
  reading: MeterReading | null;
  rateHz: number;
  /** How many of its own protections it answers for: more of them, and the dialect fits better. */
  protections: number;
}

/** How an instrument is tried. */
interface TryOptions {
  /** Its address on a bus; that of its dialect where left out. */
  unit?: number | null;
  /** How long an answer may take, milliseconds. */
  timeoutMs?: number;
}

/**
 * Asks or listens to an instrument for a moment. It is never set, and its output never switched.
 *
 * @throws {ConnectionProblem} where it cannot be reached
 * @throws {AnswerProblem} where it is silent, or says something that is not of this dialect: with what was sent and what came
 */
export function tryInstrument(transport: Transport, dialect: Dialect, options: TryOptions = {}): Promise<Tried> {
  return isAsked(dialect) ? asked(transport, dialect, options) : listened(transport, dialect);
}

async function asked(transport: Transport, dialect: AskedDialect, { unit, timeoutMs }: TryOptions): Promise<Tried> {
  const heard = { sent: new Uint8Array(0), got: new Uint8Array(0) };
  const supply = supplyFor(overheard(transport, heard), dialect, { unit, timeoutMs: timeoutMs ?? policy.answerMs });
  try {
    const says = await supply.open();
    const began = performance.now();
    let shown = await supply.measure();
    let n = 1;
    const apart = policy.msPerSecond / dialect.rateHz;
    while (performance.now() - began < policy.measureMs) {
      const at = performance.now();
      shown = await supply.measure();
      n++;
      await new Promise((resolve) => setTimeout(resolve, Math.max(0, apart - (performance.now() - at))));
    }
    const rateHz = (n * policy.msPerSecond) / (performance.now() - began);
    const isSupply = dialect.format === 'umbral-scpi/1' || dialect.output !== null;
    if (isSupply) await supply.settings();
    const protections = Object.values(await supply.selfWatch()).filter((x) => x !== null).length;
    return { says, ...shown, reading: null, rateHz, protections };
  } catch (error) {
    if (!(error instanceof AnswerProblem) || heard.got.length === 0 || /not in this language/.test(error.message))
      throw error;
    throw new AnswerProblem(
      `it answers, but not in this language: sent ${sayBytes(heard.sent)}, got ${sayBytes(heard.got)} (${error.message})`,
    );
  } finally {
    supply.close();
  }
}

type Shown = Pick<Tried, 'volts' | 'amps' | 'reading'>;

/** What an instrument that sends only when it is asked is asked with. */
export function requestOf(dialect: Dialect): { bytes: Uint8Array; everyMs: number } | null {
  const request = 'request' in dialect ? dialect.request : null;
  if (!request) return null;
  return { everyMs: request.everyMs, bytes: 'text' in request ? bytesOf(request.text) : bytesOfHex(request.bytes) };
}

/** A transport of which the last bytes either way are kept. */
function overheard(transport: Transport, heard: { sent: Uint8Array; got: Uint8Array }): Transport {
  return {
    ...transport,
    connect: async (events) => {
      const connection = await transport.connect({
        ...events,
        data: (piece) => {
          heard.got = piece.slice(0, policy.shownBytes);
          events.data(piece);
        },
      });
      return {
        send: (data) => {
          heard.sent = bytesOf(data).slice(0, policy.shownBytes);
          connection.send(data);
        },
        close: () => connection.close(),
      };
    },
  };
}

async function listened(transport: Transport, dialect: SentDialect): Promise<Tried> {
  let last: Shown | null = null;
  let n = 0;
  const decoder = decoderFor(
    dialect,
    ({ volts, amps }) => {
      last = { volts, amps, reading: null };
      n++;
    },
    (reading) => {
      last = { volts: 0, amps: 0, reading };
      n++;
    },
  );
  const heard = await listen(transport, policy.listenMs, requestOf(dialect));
  for (const { bytes } of heard) decoder.push(bytes);
  const got = heard.flatMap(({ bytes }) => [...bytes]);
  if (last === null || n < policy.leastValues || decoder.wrong > policy.mostWrong * n)
    throw new AnswerProblem(
      got.length === 0
        ? `${transport.where}: silent for ${policy.listenMs / policy.msPerSecond} s`
        : `${transport.where}: it sends data, but not in this language: got ${sayBytes(Uint8Array.from(got.slice(0, policy.shownBytes)))}`,
    );
  const rateHz = (n * policy.msPerSecond) / policy.listenMs;
  return { says: dialect.name, ...(last as Shown), rateHz, protections: 0 };
}

/** A piece of what arrived: milliseconds since listening began, and its bytes. */
interface HeardPiece {
  atMs: number;
  bytes: Uint8Array;
}

/**
 * Listens to what is sent, and keeps it as it arrives.
 *
 * @param request bytes that are sent meanwhile, and how often; null for listening alone
 * @throws {ConnectionProblem} where nothing can be reached
 */
export async function listen(
  transport: Transport,
  forMs: number,
  request: { bytes: Uint8Array; everyMs: number } | null = null,
): Promise<HeardPiece[]> {
  const heard: HeardPiece[] = [];
  const began = performance.now();
  let [size, connection]: [number, Connection | null] = [0, null];
  let timer: NodeJS.Timeout | undefined;
  await new Promise<void>((resolve, reject) => {
    const end = setTimeout(resolve, forMs);
    transport
      .connect({
        data: (piece) => {
          size += piece.length;
          if (size <= policy.mostBytes) heard.push({ atMs: performance.now() - began, bytes: piece.slice() });
        },
        closed: (reason) => {
          clearTimeout(end);
          if (reason === null) resolve();
          else reject(new AnswerProblem(`${transport.where}: ${reason}`));
        },
      })
      .then((open) => {
        connection = open;
        if (!request) return;
        open.send(request.bytes);
        timer = setInterval(() => open.send(request.bytes), request.everyMs);
      }, reject);
  }).finally(() => {
    clearInterval(timer);
    connection?.close();
  });
  return heard;
}
