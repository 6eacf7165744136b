import { parseArgs } from 'node:util';
import {
  deviceClasses,
  feeds,
  FormatError,
  inspectPackage,
  populationFormat,
  readPopulation,
  readProfile,
  readRunLog,
  sayFinding,
  unknownInstrument,
  unknownSetup,
  type DeviceClass,
  type Feed,
  type Finding,
} from '@umbral/core';
import { readFile } from 'node:fs/promises';
import { basename } from 'node:path';
import { kindOfPath, readBlocks } from './access.ts';
import { assessLog, assessPackage, assessTyped, withPackage, type Assessed } from './assess.ts';
import { assessmentJson, sayAssessment, sayExplanation } from './print.ts';
import { SetupProblem, simulate } from './simulate.ts';
import { pull, push } from './server.ts';
import { complain, jsonForTerminal, print } from './terminal.ts';
import { readLibrary } from './library.ts';
import { sayNumbers } from './numbers.ts';
import { findWorlds } from './worlds.ts';

findWorlds();

const usage = `umbral assess PATH [--json | --explain] [--library FILE]   a case package (folder or .zip); --explain: every observation
                                                     with its weight; --library: past cases of a shop, as exported
umbral assess LOG --feed FEED [--class CLASS] [--json]   a single log
umbral assess --typed "…" [--typed "…"] [--class CLASS] [--json]
umbral validate PATH                                 checks a package, a log, a profile or a population
umbral simulate --profile ID --fault SPEC --setup "…" --out DIR
umbral numbers [FILE]                                lists the engine's numbers with unit and source
umbral push PACKAGE.zip --server URL --token TOKEN   sends a package as a new job
umbral pull JOB --server URL --token TOKEN --out FILE   a job as a package; the token can also be in UMBRAL_TOKEN
umbral bench --server URL --token TOKEN --name NAME --data DIR   the recorder of a bench on this computer

  FEED   ${feeds.join(', ')}
  CLASS  ${deviceClasses.join(', ')}
  ID     a shipped profile, or the path of a profile
  SPEC   none, or kind:element[=value], such as short:main=2.5 or mute:storage-chip (repeatable)
  setup  as in a typed line: battery 4V limit 3A | usb-c port 2 flipped | dc-in 19V no-prompt 40s (repeatable)
`;

class UsageError extends Error {}

function parse(args: string[]) {
  try {
    return parseArgs({
      args,
      allowPositionals: true,
      options: {
        json: { type: 'boolean', default: false },
        explain: { type: 'boolean', default: false },
        typed: { type: 'string', multiple: true, default: [] },
        feed: { type: 'string' },
        class: { type: 'string' },
        library: { type: 'string' },
        profile: { type: 'string' },
        fault: { type: 'string', multiple: true, default: [] },
        setup: { type: 'string', multiple: true, default: [] },
        instrument: { type: 'string' },
        seed: { type: 'string' },
        out: { type: 'string' },
        server: { type: 'string' },
        token: { type: 'string' },
        name: { type: 'string' },
        data: { type: 'string' },
        help: { type: 'boolean', short: 'h', default: false },
      },
    });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

function oneOf<T extends string>(value: string | undefined, values: readonly T[], name: string): T | null {
  if (value === undefined) return null;
  const found = values.find((v) => v === value);
  if (!found) throw new UsageError(`--${name} "${value}" is not known; expected ${values.join(', ')}`);
  return found;
}

async function carryOut(args: string[]): Promise<number> {
  const { values, positionals } = parse(args);
  if (values.help || positionals.length === 0) {
    print(usage);
    return values.help ? 0 : 2;
  }
  const [command, ...paths] = positionals;
  if (paths.length > 1) throw new UsageError(`one PATH at a time; got ${paths.length}`);
  if (command === 'assess') return runAssess(values, paths[0]);
  if (command === 'validate') return runValidate(paths[0]);
  if (command === 'simulate') return runSimulate(values);
  if (command === 'numbers') return runNumbers(paths[0]);
  if (command === 'push' || command === 'pull') return runTransfer(command, values, paths[0]);
  if (command === 'bench') return runBench(values);
  throw new UsageError(
    `"${command}" is not a command; expected assess, validate, simulate, numbers, push, pull or bench`,
  );
}

async function runAssess(values: ReturnType<typeof parse>['values'], path: string | undefined): Promise<number> {
  const feed = oneOf<Feed>(values.feed, feeds, 'feed');
  const stated = oneOf<DeviceClass>(values.class, deviceClasses, 'class');
  const lines = values.typed ?? [];
  if (lines.length > 0 && path !== undefined) throw new UsageError('either a PATH or --typed, not both');
  if (lines.length === 0 && path === undefined) throw new UsageError('assess needs a PATH or --typed');
  const warnings: string[] = [];
  const deviceClass = (): DeviceClass => {
    if (stated === null) warnings.push('No --class was given, so the class "other" was used, with wide tolerances.');
    return stated ?? 'other';
  };
  if (values.json && values.explain) throw new UsageError('either --json or --explain, not both');
  const library = values.library === undefined ? null : await readLibrary(values.library);
  let assessed: Assessed;
  if (lines.length > 0) assessed = assessTyped(lines, deviceClass(), warnings, library);
  else if ((await kindOfPath(path!)) !== 'file') assessed = await assessPackage(path!, library);
  else {
    if (feed === null) throw new UsageError(`a log needs --feed: ${feeds.join(', ')}`);
    assessed = await assessLog(path!, feed, deviceClass(), warnings, library);
  }
  const { assessment, belief } = assessed;
  if (values.json) print(`${jsonForTerminal(assessmentJson(assessment))}\n`);
  else print(sayAssessment(assessment) + (values.explain ? `\n${sayExplanation(belief)}` : ''));
  return 0;
}

function runNumbers(file: string | undefined): number {
  try {
    print(`${sayNumbers(file)}\n`);
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
  return 0;
}

async function runSimulate(values: ReturnType<typeof parse>['values']): Promise<number> {
  const { profile, fault, setup, instrument, seed, out } = values;
  if (profile === undefined) throw new UsageError('simulate needs --profile');
  if (out === undefined) throw new UsageError('simulate needs --out, the folder to write to');
  try {
    print(await simulate({ profile, faults: fault ?? [], setups: setup ?? [], instrument, seed, out }));
  } catch (error) {
    if (error instanceof SetupProblem) throw new UsageError(error.message);
    throw error;
  }
  return 0;
}

type Values = ReturnType<typeof parse>['values'];

/** Where the server is, and what lets us in. */
function accessOf({ server, token = process.env.UMBRAL_TOKEN }: Values): { server: string; token: string } {
  if (!server || !/^https?:\/\/[^\s]+$/.test(server))
    throw new UsageError('--server: expected an address such as http://127.0.0.1:4300');
  if (!token) throw new UsageError('--token is missing; a lead makes one in Settings');
  return { server: server.replace(/\/+$/, ''), token };
}

async function runTransfer(command: 'push' | 'pull', values: Values, what: string | undefined): Promise<number> {
  const access = accessOf(values);
  if (command === 'push') {
    if (what === undefined) throw new UsageError('push needs a PACKAGE');
    print(`Job ${await push(access, what)} was created.\n`);
    return 0;
  }
  if (what === undefined || !/^\d{1,9}$/.test(what)) throw new UsageError('pull needs the number of a JOB');
  if (values.out === undefined) throw new UsageError('pull needs --out, the file to write');
  await pull(access, Number(what), values.out);
  print(`${values.out}\n`);
  return 0;
}

async function runBench(values: Values): Promise<number> {
  const access = accessOf(values);
  const { name, data } = values;
  if (!name) throw new UsageError('bench needs --name, as shown on the screens');
  if (!data) throw new UsageError('bench needs --data, a folder for recordings while the server is away');
  const { runAgent } = await import('@umbral/instruments/agent');
  await runAgent({ ...access, name, folder: data, say: (text) => complain(`${text}\n`) });
  return 0;
}

async function runValidate(path: string | undefined): Promise<number> {
  if (path === undefined) throw new UsageError('validate needs a PATH');
  const findings = await findingsOf(path);
  for (const finding of findings) print(`${finding.severity} ${sayFinding(finding)}\n`);
  return findings.some((f) => f.severity === 'error') ? 1 : 0;
}

/** Whether a file says of itself, near its beginning, that it is a population of devices. */
function isPopulation(bytes: Uint8Array): boolean {
  return new TextDecoder().decode(bytes.subarray(0, 400)).includes(populationFormat);
}

async function findingsOf(path: string): Promise<Finding[]> {
  try {
    if ((await kindOfPath(path)) !== 'file')
      return await withPackage(path, async (files) => (await inspectPackage(files)).findings);
    const name = basename(path);
    if (/\.(json|ya?ml)$/i.test(name)) {
      const bytes = await readFile(path);
      return isPopulation(bytes) ? readPopulation(bytes, name).findings : readProfile(bytes, name).findings;
    }
    const run = {
      id: 'r1',
      file: name,
      typed: null,
      feed: 'battery' as const,
      quantity: 'current' as const,
      instrument: unknownInstrument,
      setup: unknownSetup,
      markers: [],
      contract: null,
      after: null,
    };
    const read = await readRunLog(run, readBlocks(path, name), name, {});
    return [...read.repairs, ...read.warnings].map((message) => ({
      severity: 'warning',
      file: name,
      place: '',
      message,
    }));
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    return [{ severity: 'error', file: error.file, place: error.place, message: error.problem }];
  }
}

/**
 * Carries out a command line, and says on standard output or error what came of it.
 *
 * @returns the exit code: 0, 1 for input that cannot be used, 2 for a command line that cannot be understood
 */
export async function umbral(args: string[]): Promise<number> {
  try {
    return await carryOut(args);
  } catch (error) {
    if (error instanceof UsageError) {
      complain(`umbral: ${error.message}\n\n${usage}`);
      return 2;
    }
    complain(`umbral: ${error instanceof Error ? error.message : String(error)}\n`);
    return 1;
  }
}
