import { SerialPort } from 'serialport';
import {
  decoderFor,
  hexOf,
  isAsked,
  kindOf,
  type Dialect,
  type InstrumentKind,
  type MeterReading,
} from '../dialect/index.ts';
import { sayBytes } from '../instrument/index.ts';
import { ConnectionProblem, type Transport } from '../transport/index.ts';
import policy from './policy.json';
import { listen, requestOf, tryInstrument } from './try.ts';

/** A serial port of this computer. */
interface PortHere {
  path: string;
  /** As its maker calls it; empty where it does not say. */
  says: string;
}

/** Serial ports that are there now. */
export async function portsHere(): Promise<PortHere[]> {
  const ports = await SerialPort.list();
  return ports
    .filter((p) => p.vendorId !== undefined || p.manufacturer !== undefined || /USB|ACM/.test(p.path))
    .map(({ path, manufacturer }) => ({ path, says: manufacturer ?? '' }));
}

/** Speeds and ports that are usual, for whoever looks. */
export const usualPlaces = { bauds: policy.bauds, networkPorts: policy.networkPorts };

/** An instrument that answered, with what it showed. */
export interface FoundInstrument {
  dialect: string;
  name: string;
  kind: InstrumentKind;
  /** Its address on a bus; null where it has none. */
  unit: number | null;
  says: string;
  volts: number;
  amps: number;
  /** What a multimeter shows, in the place of the two; null for any other instrument. */
  reading: MeterReading | null;
  rateHz: number;
}

/** What came of looking at one place. */
export interface FoundAt {
  /** The one that fits best first. */
  found: FoundInstrument[];
  /** Where nothing was found: why, in a sentence. */
  why: string;
  /** What was sent that nobody understood, in hexadecimal; empty where nothing came. */
  heard: string;
}

/**
 * Looks what answers at one place: listens first, then asks each dialect's harmless question. Nothing is set.
 *
 * @param baudRate of a serial port: only dialects with this speed among their usual ones are asked; null for the network
 */
export async function findAt(
  transport: Transport,
  dialects: readonly Dialect[],
  baudRate: number | null,
): Promise<FoundAt> {
  let pieces;
  try {
    pieces = await listen(transport, policy.listenMs);
  } catch (error) {
    return { found: [], why: (error as Error).message, heard: '' };
  }
  const bytes = Uint8Array.from(pieces.flatMap((p) => [...p.bytes]));
  const sent = dialects.flatMap((dialect) => heardAs(dialect, bytes));
  if (sent.length > 0) return { found: sent, why: '', heard: '' };
  if (bytes.length > 0)
    return {
      found: [],
      why: `${transport.where}: it sends data, but in no known language: ${sayBytes(bytes.slice(0, policy.shownBytes))}`,
      heard: hexOf(bytes.slice(0, policy.mostBytes)),
    };
  const found: (FoundInstrument & { protections: number })[] = [];
  for (const dialect of dialects) {
    if (!isAsked(dialect) && requestOf(dialect) === null) continue;
    if (baudRate !== null && !dialect.bauds.includes(baudRate)) continue;
    found.push(...(await askedAt(transport, dialect)));
  }
  found.sort((a, b) => b.protections - a.protections);
  const why =
    found.length > 0 ? '' : `${transport.where}: nothing answers. Is it switched on, and is the cable for data?`;
  return { found: found.map(({ protections: _, ...of }) => of), why, heard: '' };
}

/** What was sent, read by a dialect of a meter that sends by itself. */
function heardAs(dialect: Dialect, bytes: Uint8Array): FoundInstrument[] {
  if (isAsked(dialect)) return [];
  const values: Pick<FoundInstrument, 'volts' | 'amps' | 'reading'>[] = [];
  const decoder = decoderFor(
    dialect,
    ({ volts, amps }) => values.push({ volts, amps, reading: null }),
    (reading) => values.push({ volts: 0, amps: 0, reading }),
  );
  decoder.push(bytes);
  const last = values.at(-1);
  if (!last || values.length < policy.leastValues || decoder.wrong > policy.mostWrong * values.length) return [];
  const rateHz = (values.length * policy.msPerSecond) / policy.listenMs;
  const { id, name } = dialect;
  return [{ dialect: id, name, kind: kindOf(dialect), unit: null, says: name, ...last, rateHz }];
}

async function askedAt(transport: Transport, dialect: Dialect) {
  const isBus = dialect.format === 'umbral-registers/1';
  const units = isBus ? [...new Set([dialect.unit, ...policy.units])] : [null];
  const found: (FoundInstrument & { protections: number })[] = [];
  for (const unit of units) {
    try {
      const { says, volts, amps, reading, rateHz, protections } = await tryInstrument(transport, dialect, { unit });
      const of = { dialect: dialect.id, name: dialect.name, kind: kindOf(dialect), unit };
      found.push({ ...of, says, volts, amps, reading, rateHz, protections });
    } catch (error) {
      // Whoever cannot be reached any more answers no other question either.
      if (error instanceof ConnectionProblem) break;
    }
  }
  return found;
}
