import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { basename, dirname, join } from 'node:path';
import {
  bareCase,
  compileProfile,
  formatVoltage,
  instrumentModels,
  instrumentOf,
  markersOf,
  recordedRun,
  packageFiles,
  parseFault,
  parseQuantity,
  readProfile,
  recordStartUp,
  sayFault,
  sayFinding,
  seededRandom,
  shippedProfile,
  shippedProfiles,
  startUp,
  usualSetup,
  FormatError,
  type DeviceClass,
  type Fault,
  type InstrumentName,
  type Profile,
  type Run,
  type TwinSetup,
} from '@umbral/core';

export interface SimulateOptions {
  profile: string;
  faults: string[];
  setups: string[];
  instrument: string | undefined;
  seed: string | undefined;
  out: string;
}

/** A slip on the command line itself. */
export class SetupProblem extends Error {}

/** One start-up a setup, written as a case package that `assess` reads. */
export async function simulate(options: SimulateOptions): Promise<string> {
  const profile = await findProfile(options.profile);
  const faults = options.faults.map((spec) => asFault(profile, spec));
  const board = compileProfile(profile);
  const seed = options.seed === undefined ? 1 : Number(options.seed);
  if (!Number.isInteger(seed)) throw new SetupProblem(`--seed "${options.seed}": expected a whole number`);
  const lines: string[] = [];
  const runs: { run: Run; samples: ReturnType<typeof recordStartUp> }[] = [];
  const setups =
    options.setups.length > 0 ? options.setups : [profile.battery ? 'battery' : profile.dcIn ? 'dc-in' : 'usb-c'];
  setups.forEach((text, k) => {
    const setup = readSetup(text, profile);
    const name = instrumentName(options.instrument, setup);
    const start = asProblem(() => startUp(board, faults, setup));
    const samples = recordStartUp(start, setup, instrumentOf(name), seededRandom(seed + k));
    const id = `r${k + 1}`;
    runs.push({ run: runOf(id, setup, samples), samples });
    const reached = start.stage < 0 ? 'nothing started' : `reached "${profile.stages[start.stage].name}"`;
    const waits = start.waitsFor.length > 0 ? `, waited for ${start.waitsFor.join(', ')}` : '';
    const lost = start.lost.length > 0 ? `, lost ${start.lost.join(', ')}` : '';
    const again = start.restarts > 0 ? `, ${start.restarts} restarts` : '';
    const contract = start.contractV > 0 ? `, contract ${formatVoltage(start.contractV)}` : '';
    lines.push(`${id}  ${text}: ${reached}${waits}${lost}${again}${contract}`);
  });
  const device = { class: profile.class as DeviceClass, model: profile.name, profile: profile.id };
  const value = bareCase(
    device,
    runs.map((r) => r.run),
    `simulated-${profile.id}`,
  );
  const content = new Map(runs.map(({ run, samples }) => [run.id, { blocks: [samples], startedAt: null }]));
  for (const file of packageFiles(value, (id) => content.get(id) ?? { blocks: [], startedAt: null })) {
    const path = join(options.out, file.name);
    await mkdir(dirname(path), { recursive: true });
    const parts: Uint8Array[] = [];
    for await (const part of file.content) parts.push(part);
    await writeFile(path, Buffer.concat(parts));
  }
  const said = faults.map((f) => sayFault(profile, f)).join('; ') || 'healthy';
  return `${profile.name}, ${said}\n${lines.join('\n')}\nWritten to ${options.out}\n`;
}

/** A profile that ships with the application, by id, or one in a file. */
async function findProfile(idOrPath: string): Promise<Profile> {
  const shipped = shippedProfile(idOrPath);
  if (shipped) return shipped;
  const bytes = await readFile(idOrPath).catch(() => null);
  if (!bytes) {
    const known = shippedProfiles.map((p) => p.id).join(', ');
    throw new FormatError(idOrPath, '', `is neither a shipped profile (${known}) nor a file`);
  }
  const { profile, findings } = readProfile(bytes, basename(idOrPath));
  if (!profile) throw new FormatError('', '', findings.map(sayFinding).join('\n'));
  return profile;
}

function asFault(profile: Profile, spec: string): Fault {
  return asProblem(() => parseFault(profile, spec));
}

function asProblem<T>(work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (error instanceof RangeError) throw new SetupProblem(error.message);
    throw error;
  }
}

function instrumentName(name: string | undefined, setup: TwinSetup): InstrumentName {
  if (name === undefined) return setup.feed === 'usb-c' ? 'usb-meter' : 'bench-logger';
  if (!Object.hasOwn(instrumentModels, name))
    throw new SetupProblem(`--instrument "${name}" is not known; expected ${Object.keys(instrumentModels).join(', ')}`);
  return name as InstrumentName;
}

/**
 * Reads a setup in the words of a typed line: `battery 4V limit 3A`, `usb-c port 2 flipped with-battery`,
 * `dc-in 19V no-prompt 40s unplugged sensor-flex`.
 */
function readSetup(text: string, profile: Profile): TwinSetup {
  const words = text.trim().split(/\s+/);
  const feed = words.shift();
  if (feed !== 'battery' && feed !== 'usb-c' && feed !== 'dc-in')
    throw new SetupProblem(`--setup "${text}": expected battery, usb-c or dc-in first`);
  const setup: TwinSetup = {
    ...usualSetup,
    feed,
    limitA: feed === 'usb-c' ? null : usualSetup.limitA,
    battery: feed !== 'battery' && profile.battery !== null,
    unplugged: [],
  };
  const next = (after: string): string => {
    const word = words.shift();
    if (word === undefined) throw new SetupProblem(`--setup "${text}": "${after}" needs a value after it`);
    return word;
  };
  while (words.length > 0) {
    const word = words.shift() ?? '';
    if (word === 'port') setup.port = portNumber(next(word), text);
    else if (word === 'flipped') setup.flipped = true;
    else if (word === 'limit') setup.limitA = quantity(next(word), 'current', text);
    else if (word === 'no-battery') setup.battery = false;
    else if (word === 'with-battery') setup.battery = true;
    else if (word === 'battery-at') setup.batteryV = quantity(next(word), 'voltage', text);
    else if (word === 'no-display') setup.display = false;
    else if (word === 'board-alone') setup.boardAlone = true;
    else if (word === 'half') setup.half = next(word);
    else if (word === 'unplugged') setup.unplugged.push(next(word));
    else if (word === 'no-prompt') setup.promptS = null;
    else if (/^\d+(\.\d+)?s$/.test(word)) setup.seconds = Math.min(600, Number(word.slice(0, -1)));
    else setup.setV = quantity(word, 'voltage', text);
  }
  return setup;
}

function portNumber(word: string, text: string): number {
  const port = Number(word);
  if (!Number.isInteger(port) || port < 1)
    throw new SetupProblem(`--setup "${text}": "${word}": expected the number of a port, from 1`);
  return port;
}

function quantity(word: string, kind: 'voltage' | 'current', text: string): number {
  const read = parseQuantity(word, kind);
  if (!read.ok) throw new SetupProblem(`--setup "${text}": ${read.error}`);
  if (!(read.value > 0)) throw new SetupProblem(`--setup "${text}": ${word}: expected a ${kind} above 0`);
  return read.value;
}

function runOf(id: string, setup: TwinSetup, samples: ReturnType<typeof recordStartUp>): Run {
  const run = recordedRun(id, setup, samples.instrument, markersOf(setup));
  return {
    ...run,
    setup: {
      ...run.setup,
      battery: setup.battery ? 'connected' : 'disconnected',
      display: setup.display ? 'connected' : 'disconnected',
      assembly: setup.half !== null ? 'half' : setup.boardAlone ? 'board-alone' : 'assembled',
      half: setup.half,
      unplugged: setup.unplugged,
      batteryV: setup.batteryV,
    },
  };
}
