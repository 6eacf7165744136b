import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Knex } from 'knex';
import { parseDialect, shippedDialects, type Dialect } from '../dialect/index.ts';
import { readNetwork } from '../transport/index.ts';
import { noCalibration, readInstrument, unitOf, type InstrumentSpec } from '../instrument/spec.ts';

/** Ports of the simulated bench on loopback; others are there to be found. */
export type SimulatedPorts = Record<'supply' | 'meter', number> & { others?: { port: number; says: string }[] };

/** The instruments of this bench and what they speak, with what could not be read. */
export interface Roster {
  /** As they are described, and those of them that can be reached, by an address. */
  described: InstrumentSpec[];
  instruments: InstrumentSpec[];
  dialects: ReadonlyMap<string, Dialect>;
  /** Networks that a lead allows instruments in, beside this computer. */
  networks: string[];
  problems: string[];
}

/** What of the bench is kept for a start without a record: instruments as they are described, and where they may be. */
export interface KeptBench {
  instruments: { key: string; spec: unknown }[];
  networks: string[];
}

export interface RosterSources {
  simulated: SimulatedPorts | null;
  /** Folder with one JSON file for each make; null for those that ship alone. */
  dialectFolder: string | null;
}

/** The two simulated instruments, as they are before somebody renames or calibrates them. */
const simulatedInstruments: readonly InstrumentSpec[] = [
  simulated('bench-supply', 'Simulated supply', 'supply', 'scpi-guarded'),
  simulated('port-meter', 'Simulated USB-C meter', 'meter', 'lines-usual'),
];

function simulated(key: string, name: string, kind: 'supply' | 'meter', dialect: string): InstrumentSpec {
  const transport = { kind: 'simulated' as const, which: kind };
  return { key, name, kind, transport, dialect, calibration: noCalibration, simulated: true };
}

const message = (error: unknown): string => (error instanceof Error ? error.message : String(error));

/** Dialects that ship and those of a folder; a file that cannot be read is told with its line and left out. */
async function readDialects(folder: string | null, problems: string[]): Promise<Map<string, Dialect>> {
  const dialects = new Map(shippedDialects.map((d): [string, Dialect] => [d.id, d]));
  if (folder === null) return dialects;
  let names: string[] = [];
  try {
    names = (await readdir(folder)).filter((name) => name.endsWith('.json')).sort();
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'ENOENT') problems.push(`${folder}: ${message(error)}`);
  }
  for (const name of names) {
    try {
      const read = parseDialect(await readFile(join(folder, name), 'utf8'));
      if (dialects.has(read.id)) throw new RangeError(`id: "${read.id}" is already used`);
      dialects.set(read.id, read);
    } catch (error) {
      problems.push(`${name}: ${message(error)}`);
    }
  }
  return dialects;
}

/** A serial port is one instrument's, or a bus of several that are asked by registers, each at an address of its own. */
function refuseShared(specs: readonly InstrumentSpec[], dialects: ReadonlyMap<string, Dialect>, problems: string[]) {
  const placeOf = ({ transport }: InstrumentSpec): string | null =>
    transport.kind === 'serial' ? transport.path : null;
  const addressOf = (spec: InstrumentSpec): number | null => {
    const dialect = dialects.get(spec.dialect);
    return dialect?.format === 'umbral-registers/1' ? (unitOf(spec) ?? dialect.unit) : null;
  };
  return specs.filter((spec, k) => {
    const place = placeOf(spec);
    const other = specs.slice(0, k).find((s) => place !== null && placeOf(s) === place);
    if (!other) return true;
    const [a, b] = [addressOf(other), addressOf(spec)];
    if (a !== null && b !== null && a !== b) return true;
    problems.push(
      `${spec.name}: ${place} is already used by ${other.name}${a !== null && a === b ? `, also at address ${a}. Give each an address of its own` : ''}`,
    );
    return false;
  });
}

/** Where an instrument is to be reached; null for a simulated one while there is no simulated bench. */
function reachable(spec: InstrumentSpec, ports: SimulatedPorts | null): InstrumentSpec | null {
  if (spec.transport.kind !== 'simulated') return spec;
  if (!ports) return null;
  return { ...spec, transport: { kind: 'tcp', host: '127.0.0.1', port: ports[spec.transport.which] } };
}

/** What the record says of the bench now. */
export async function loadKept(db: Knex): Promise<KeptBench> {
  const instruments = (await db('instruments')
    .whereNull('bench_id')
    .orderBy('id')
    .select('key', 'spec')) as KeptBench['instruments'];
  const policy = await db('shop_policy').where({ id: 1 }).first<{ value: { networks?: string[] } } | undefined>();
  return { instruments, networks: policy?.value.networks ?? [] };
}

/** Reads instruments and what they speak. One that cannot be read keeps no other from working. */
export async function rosterOf(
  { instruments: rows, networks: stated }: KeptBench,
  { simulated: ports, dialectFolder }: RosterSources,
): Promise<Roster> {
  const problems: string[] = [];
  const dialects = await readDialects(dialectFolder, problems);
  const known = rows.flatMap(({ key, spec }) => {
    try {
      return [readInstrument(spec)];
    } catch (error) {
      problems.push(`${key}: ${message(error)}`);
      return [];
    }
  });
  const networks = stated.filter((network) => {
    try {
      return readNetwork(network);
    } catch (error) {
      problems.push(message(error));
      return false;
    }
  });
  const untouched = simulatedInstruments.filter((s) => !rows.some((r) => r.key === s.key));
  const all = [...(ports ? untouched : []), ...known];
  const reached = refuseShared(
    all.flatMap((spec) => reachable(spec, ports) ?? []),
    dialects,
    problems,
  );
  return { described: all, instruments: reached, dialects, networks, problems };
}
