import type { Case, Run } from '../../case/index.ts';
import { TraceCollector, type Instrument, type Summary, type Trace } from '../../trace/index.ts';
import { FormatError } from '../error.ts';
import { LogReader, type LogOptions, type LogResult } from '../log/index.ts';
import { readTypedRun } from '../typed/index.ts';
import { asFinding, type Finding } from './finding.ts';
import { readWhole, type PackageFiles } from './files.ts';
import { readJson } from './json.ts';
import { parseCase } from './parse.ts';
import { pathProblem } from './path-problem.ts';

/** A run with its samples, as shown by the instrument. */
export interface RunSamples {
  run: Run;
  trace: Trace;
  /** Exact over every row, corrected, also where the trace was reduced. */
  summary: Summary | null;
  repairs: string[];
  warnings: string[];
  /** Units by column name from the table schema. */
  units: Record<string, string>;
}

export interface CasePackage {
  case: Case;
  runs: RunSamples[];
  findings: Finding[];
}

const maxJson = 16 * 1024 * 1024;

/**
 * Reads and checks a whole package.
 *
 * @returns every finding; the package is null where one of them is an error
 */
export async function inspectPackage(
  files: PackageFiles,
): Promise<{ package: CasePackage | null; findings: Finding[] }> {
  const findings: Finding[] = files.remarks.map((message) => ({ severity: 'warning', file: '', place: '', message }));
  try {
    const parsed = parseCase(readJson(await readNamed(files, 'case.json'), 'case.json'));
    findings.push(...parsed.findings);
    const units = await readUnits(files, findings);
    if (!parsed.case) return { package: null, findings };
    const runs: RunSamples[] = [];
    for (const [k, run] of parsed.case.runs.entries()) {
      const samples = await readRun(files, run, k, units, findings);
      if (samples) runs.push(samples);
    }
    if (findings.some((f) => f.severity === 'error')) return { package: null, findings };
    const merged = { ...parsed.case, runs: runs.map((r) => r.run) };
    return { package: { case: merged, runs, findings }, findings };
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    findings.push(asFinding(error));
    return { package: null, findings };
  }
}

/**
 * Reads a package for use.
 *
 * @throws FormatError with the first thing that is wrong, and how many more there are
 */
export async function readPackage(files: PackageFiles): Promise<CasePackage> {
  const { package: found, findings } = await inspectPackage(files);
  if (found) return found;
  const errors = findings.filter((f) => f.severity === 'error');
  const more = errors.length > 1 ? ` (and ${errors.length - 1} more)` : '';
  throw new FormatError(errors[0].file, errors[0].place, errors[0].message + more);
}

async function readNamed(files: PackageFiles, name: string): Promise<Uint8Array> {
  const stat = await files.stat(name);
  if (!stat) {
    const hint = name === 'case.json' ? '; a folder or an archive is read as a case package, a file as a log' : '';
    throw new FormatError(name, '', `the package has no such file${hint}`);
  }
  if (stat.link) throw new FormatError(name, '', 'is a link; expected a file');
  const bytes = stat.size > maxJson ? null : await readWhole(files, name, maxJson);
  if (!bytes) throw new FormatError(name, '', 'the file is above 16 MB');
  return bytes;
}

type Units = Map<string, Record<string, string>>;

/** Units by file and column from the table schemas of `datapackage.json`. */
async function readUnits(files: PackageFiles, findings: Finding[]): Promise<Units> {
  const units: Units = new Map();
  const file = 'datapackage.json';
  if (!(await files.stat(file))) {
    findings.push({ severity: 'warning', file, place: '', message: 'is missing; the tables have no schema' });
    return units;
  }
  const raw = readJson(await readNamed(files, file), file) as { resources?: unknown } | null;
  const resources = raw !== null && typeof raw === 'object' && Array.isArray(raw.resources) ? raw.resources : null;
  if (!resources) throw new FormatError(file, 'resources', 'expected a list of resources');
  for (const [k, resource] of (resources as ({ path?: unknown; schema?: { fields?: unknown } } | null)[]).entries()) {
    if (typeof resource?.path !== 'string') continue;
    const problem = pathProblem(resource.path);
    if (problem) {
      findings.push({ severity: 'error', file, place: `resources[${k}].path`, message: problem });
      continue;
    }
    const fields = resource.schema?.fields;
    if (!Array.isArray(fields)) continue;
    const named: Record<string, string> = {};
    for (const field of fields as ({ name?: unknown; unit?: unknown } | null)[]) {
      if (typeof field?.name === 'string' && typeof field.unit === 'string') named[field.name.trim()] = field.unit;
    }
    units.set(resource.path, named);
    if (resource.path !== 'case.json' && !(await files.stat(resource.path))) {
      findings.push({
        severity: 'warning',
        file,
        place: `resources[${k}].path`,
        message: `"${resource.path}" is not in the package`,
      });
    }
  }
  return units;
}

async function readRun(
  files: PackageFiles,
  run: Run,
  index: number,
  units: Units,
  findings: Finding[],
): Promise<RunSamples | null> {
  const place = `runs[${index}]`;
  try {
    if (run.typed !== null) return mergeTyped(run, run.typed);
    const name = run.file ?? '';
    const stat = await files.stat(name);
    if (!stat) throw new FormatError('case.json', `${place}.file`, `"${name}" is not in the package`);
    if (stat.link) throw new FormatError('case.json', `${place}.file`, `"${name}" is a link; expected a file`);
    const samples = await readRunLog(run, files.open(name), name, { units: units.get(name) ?? {}, blank: 'warn' });
    for (const message of [...samples.warnings]) findings.push({ severity: 'warning', file: name, place: '', message });
    return samples;
  } catch (error) {
    if (!(error instanceof FormatError)) throw error;
    const typed = run.typed !== null;
    const where = [typed ? `${place}.typed` : '', error.place].filter(Boolean).join(': ');
    findings.push({
      severity: 'error',
      file: error.file || (typed ? 'case.json' : (run.file ?? '')),
      place: where,
      message: error.problem,
    });
    return null;
  }
}

/** Reads the log of one run from a stream. The instrument's rate stands in where the log has no time. */
export async function readRunLog(
  run: Run,
  source: AsyncIterable<Uint8Array>,
  name: string,
  options: Pick<LogOptions, 'units' | 'blank'> = {},
): Promise<RunSamples> {
  const collector = new TraceCollector();
  const reader = new LogReader((t, v, i) => collector.add(t, v, i), {
    ...options,
    file: name,
    rateHz: run.instrument.rateHz,
    instrument: run.instrument,
  });
  for await (const block of source) reader.push(block);
  return { ...collectRun(run, collector, reader.finish()), units: options.units ?? {} };
}

/** What a collector gathered, as the samples of a run. */
export function collectRun(run: Run, collector: TraceCollector, log: LogResult): RunSamples {
  const quantity =
    run.quantity === 'current' && !log.hasCurrent && log.hasVoltage && log.rows > 0 ? 'voltage-only' : run.quantity;
  const warnings = [...log.warnings];
  if (quantity !== run.quantity) warnings.push('The log has no current, so it is read as a voltage-only run.');
  const { t, v, i, reducedBy } = collector.finish();
  const repairs = [...log.repairs];
  if (reducedBy > 1)
    repairs.push(`Averaged ${reducedBy} neighbouring rows into one for the analysis. All figures come from every row.`);
  const read: Run = { ...run, quantity };
  return {
    run: read,
    trace: traceOf(read, { t, v, i }),
    summary: collector.summary(run.instrument),
    repairs,
    warnings,
    units: {},
  };
}

/** The samples of a run together with what the run says of its source and instrument. */
export function traceOf(run: Run, samples: Pick<Trace, 't' | 'v' | 'i'>, limitSpans: Trace['limitSpans'] = []): Trace {
  const { instrument, setup, feed, quantity } = run;
  return { ...samples, quantity, feed, instrument, limitA: setup.limitA, setV: setup.setV, limitSpans };
}

/**
 * A typed run of a case: the line gives the readings and what it says of the setup; what the run itself states wins.
 */
export function mergeTyped(run: Run, line: string): RunSamples {
  const typed = readTypedRun(line, run.id);
  const warnings: string[] = [];
  if (typed.run.feed !== run.feed)
    warnings.push(`The typed line says ${typed.run.feed}, but the run says ${run.feed}; the run was used.`);
  const setup = { ...typed.run.setup };
  for (const [key, value] of Object.entries(run.setup)) {
    const stated = value !== null && value !== false && !(Array.isArray(value) && value.length === 0);
    if (stated) Object.assign(setup, { [key]: value });
  }
  const instrument: Instrument = {
    ...typed.run.instrument,
    gainA: run.instrument.gainA,
    offsetA: run.instrument.offsetA,
    gainV: run.instrument.gainV,
    offsetV: run.instrument.offsetV,
    resolutionA: run.instrument.resolutionA ?? typed.run.instrument.resolutionA,
  };
  const markers = run.markers.length > 0 ? run.markers : typed.run.markers;
  const quantity = run.quantity === 'voltage-only' ? run.quantity : typed.run.quantity;
  const contract = run.contract ?? typed.run.contract;
  const merged: Run = { ...run, quantity, setup, instrument, markers, contract };
  const trace = {
    ...typed.trace,
    feed: run.feed,
    quantity,
    instrument,
    limitA: setup.limitA ?? typed.trace.limitA,
    setV: setup.setV,
  };
  return { run: merged, trace, summary: null, repairs: [], warnings, units: {} };
}
