import { basename } from 'node:path';
import {
  assessmentOf,
  bareCase,
  believe,
  describe,
  readPackage,
  readRunLog,
  readTypedRun,
  FormatError,
  unknownInstrument,
  unknownSetup,
  type Assessment,
  type Belief,
  type Case,
  type DeviceClass,
  type Feed,
  type Library,
  type PackageFiles,
  type Run,
  type RunSamples,
  type Shape,
} from '@umbral/core';
import { folderFiles, kindOfPath, openZip, readBlocks } from './access.ts';

/** What came of a case: the assessment, and the belief that it is made from. */
export interface Assessed {
  assessment: Assessment;
  belief: Belief;
}

/** Describes every run and diagnoses the case. */
function assessSamples(
  value: Case,
  samples: RunSamples[],
  warnings: string[],
  library: Library | null = null,
): Assessed {
  const shapes = new Map<string, Shape>();
  const runWarnings = new Map<string, string[]>();
  for (const one of samples) {
    shapes.set(one.run.id, describe(value, one.run, one.trace, one.summary));
    runWarnings.set(one.run.id, [...one.repairs, ...one.warnings]);
  }
  const whole = { ...value, runs: samples.map((s) => s.run) };
  const known = library?.ask(whole, shapes, { without: '', before: null }) ?? {};
  const belief = believe(whole, shapes, known);
  return { belief, assessment: assessmentOf(belief, { ...known, runWarnings, warnings }) };
}

export function assessTyped(
  lines: string[],
  deviceClass: DeviceClass,
  warnings: string[],
  library: Library | null = null,
): Assessed {
  const samples = lines.map((line, k): RunSamples => {
    try {
      return { ...readTypedRun(line, `r${k + 1}`), summary: null, repairs: [], warnings: [], units: {} };
    } catch (error) {
      if (error instanceof FormatError) throw new FormatError(`typed line ${k + 1}`, error.place, error.problem);
      throw error;
    }
  });
  return assessSamples(
    bareCase(
      { class: deviceClass },
      samples.map((s) => s.run),
    ),
    samples,
    warnings,
    library,
  );
}

export async function assessLog(
  path: string,
  feed: Feed,
  deviceClass: DeviceClass,
  warnings: string[],
  library: Library | null = null,
): Promise<Assessed> {
  const run: Run = {
    id: 'r1',
    file: basename(path),
    typed: null,
    feed,
    quantity: 'current',
    instrument: unknownInstrument,
    setup: { ...unknownSetup, unplugged: [] },
    markers: [],
    contract: null,
    after: null,
  };
  const samples = await readRunLog(run, readBlocks(path, basename(path)), basename(path));
  return assessSamples(bareCase({ class: deviceClass }, [samples.run]), [samples], warnings, library);
}

/** Runs something with the files of a package, whichever form it has. */
export async function withPackage<T>(path: string, use: (files: PackageFiles) => Promise<T>): Promise<T> {
  if ((await kindOfPath(path)) === 'folder') return use(folderFiles(path));
  const { files, close } = await openZip(path);
  try {
    return await use(files);
  } finally {
    await close();
  }
}

/** Reads and diagnoses a case package. */
export async function assessFiles(files: PackageFiles, library: Library | null = null): Promise<Assessed> {
  const found = await readPackage(files);
  const warnings = found.findings.map((f) => [f.file, f.place, f.message].filter(Boolean).join(': '));
  return assessSamples(found.case, found.runs, warnings, library);
}

export const assessPackage = (path: string, library: Library | null = null): Promise<Assessed> =>
  withPackage(path, (files) => assessFiles(files, library));
