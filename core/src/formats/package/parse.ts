import { checkTypes, isCheck } from '../../catalogue/index.ts';
import {
  emptyIntake,
  plainCheck,
  plainInjection,
  plainReading,
  unknownSetup,
  type Action,
  type Case,
  type Check,
  type Contract,
  type Extra,
  type Injection,
  type Proof,
  type Reading,
  type Run,
} from '../../case/index.ts';
import { unknownInstrument } from '../../trace/index.ts';
import { clip } from '../../quantity/index.ts';
import type { Finding } from './finding.ts';
import { caseSchema, knownKeys, markerProblem } from './schema.ts';
import { schemaHolds } from '../rules.ts';

export const caseFormat = 'umbral-case/1';

type Raw = Record<string, unknown>;

const most = { runs: 1000, markers: 100_000, items: 100_000 };

/**
 * Checks the content of `case.json` and turns it into values.
 *
 * @returns the case, null where anything is wrong, and every finding with its path
 */
export function parseCase(raw: unknown): { case: Case | null; findings: Finding[] } {
  const findings: Finding[] = [];
  const error = (place: string, message: string): void => {
    findings.push({ severity: 'error', file: 'case.json', place, message });
  };
  if (raw === null || typeof raw !== 'object' || Array.isArray(raw)) {
    error('', 'expected a JSON object');
    return { case: null, findings };
  }
  const top = raw as Raw;
  if (top.format !== caseFormat) {
    error(
      'format',
      `${top.format === undefined ? 'is missing' : `is ${clip(JSON.stringify(top.format))}`}; expected "${caseFormat}"`,
    );
    return { case: null, findings };
  }
  if (!countsAreHeld(top, error)) return { case: null, findings };
  schemaHolds(caseSchema, raw, error);
  checkMarkers(top, error);
  if (findings.some((f) => f.severity === 'error')) return { case: null, findings };
  const value = toCase(top);
  checkMeaning(value, top, findings);
  return { case: findings.some((f) => f.severity === 'error') ? null : value, findings };
}

type Report = (place: string, message: string) => void;

function countsAreHeld(top: Raw, error: Report): boolean {
  const runs = Array.isArray(top.runs) ? (top.runs as (Raw | null)[]) : [];
  if (runs.length > most.runs) error('runs', `there are ${runs.length} runs; expected at most ${most.runs}`);
  let markers = 0;
  for (const run of runs) if (Array.isArray(run?.markers)) markers += run.markers.length;
  if (markers > most.markers) error('runs', `there are ${markers} markers; expected at most ${most.markers}`);
  for (const key of ['checks', 'readings', 'injections', 'actions', 'proofs']) {
    const list = top[key];
    if (Array.isArray(list) && list.length > most.items)
      error(key, `there are ${list.length}; expected at most ${most.items}`);
  }
  return runs.length <= most.runs && markers <= most.markers;
}

function checkMarkers(top: Raw, error: Report): void {
  if (!Array.isArray(top.runs)) return;
  top.runs.forEach((run: Raw | null, k) => {
    const markers = run?.markers;
    const problem = Array.isArray(markers) ? markerProblem(markers) : null;
    if (problem) error(`runs[${k}].markers${problem.place}`, problem.problem);
  });
}

function extraOf(raw: Raw, known: string[]): { extra?: Extra } {
  const entries = Object.entries(raw).filter(([key]) => !known.includes(key) && key !== '__proto__');
  return entries.length === 0 ? {} : { extra: Object.fromEntries(entries) };
}

/** Takes what is stated over the defaults; null counts as not stated. */
function over<T extends object>(defaults: T, raw: unknown, known: string[]): T & { extra?: Extra } {
  const source = (raw ?? {}) as Raw;
  const out: Raw = { ...(defaults as Raw) };
  for (const key of known) if (source[key] !== null && source[key] !== undefined) out[key] = source[key];
  return { ...out, ...extraOf(source, known) } as T & { extra?: Extra };
}

const items = (raw: unknown): Raw[] => (Array.isArray(raw) ? (raw as Raw[]) : []);

function toCase(top: Raw): Case {
  const device = top.device as Raw;
  return {
    id: typeof top.id === 'string' ? top.id : '',
    device: {
      ...over({ class: 'other' as const, model: '', serial: '', profile: null }, device, [
        'class',
        'model',
        'serial',
        'profile',
      ]),
      expect: over({}, device.expect, knownKeys.expect),
      extra: extraOf(device, knownKeys.device).extra,
    },
    complaint: (top.complaint as string | null) ?? '',
    complaintKind: (top.complaintKind as Case['complaintKind']) ?? null,
    intake: over(emptyIntake, top.intake, knownKeys.intake),
    runs: items(top.runs).map(toRun),
    checks: items(top.checks).map((c) => over<Check>({ ...plainCheck, id: '', outcome: null }, c, knownKeys.check)),
    readings: items(top.readings).map(toReading),
    injections: items(top.injections).map((i) =>
      over<Injection>({ ...plainInjection, id: '', rail: '', setV: 1 }, i, knownKeys.injection),
    ),
    actions: items(top.actions).map((a) =>
      over<Action>(
        { id: '', kind: 'other', circuit: null, target: '', note: '', runBefore: null, undoes: null },
        a,
        knownKeys.action,
      ),
    ),
    proofs: items(top.proofs).map((p) =>
      over<Proof>(
        { id: '', protocol: '', step: '', result: 'not-done', reason: '', run: null, check: null, after: null },
        p,
        knownKeys.proof,
      ),
    ),
    outcome:
      top.outcome == null
        ? null
        : over({ grade: 'not-found' as const, circuit: null, target: '', fix: '' }, top.outcome, knownKeys.outcome),
    ...extraOf(top, knownKeys.case),
  };
}

function toRun(raw: Raw): Run {
  return {
    ...over<Omit<Run, 'instrument' | 'setup' | 'markers'>>(
      { id: '', file: null, typed: null, feed: 'battery', quantity: 'current', contract: null, after: null },
      raw,
      ['id', 'file', 'typed', 'feed', 'quantity', 'after'],
    ),
    instrument: over(unknownInstrument, raw.instrument, knownKeys.instrument),
    setup: over({ ...unknownSetup, unplugged: [] }, raw.setup, knownKeys.setup),
    contract:
      raw.contract == null
        ? null
        : over<Contract>({ kind: 'none', volts: null, amps: null }, raw.contract, knownKeys.contract),
    markers: items(raw.markers).map((m) => ({
      ...(m as unknown as Run['markers'][number]),
      ...extraOf(m, knownKeys.marker),
    })),
    extra: extraOf(raw, knownKeys.run).extra,
  };
}

function toReading(raw: Raw): Reading {
  const unit = raw.mode === 'resistance' ? 'ohm' : 'V';
  return over<Reading>({ ...plainReading, where: '', mode: 'voltage', value: null, unit }, raw, knownKeys.reading);
}

/** What the schema cannot say: references, exclusions, fits, and things that are kept with a warning. */
function checkMeaning(value: Case, top: Raw, findings: Finding[]): void {
  const report = (severity: Finding['severity']) => (place: string, message: string) => {
    findings.push({ severity, file: 'case.json', place, message });
  };
  const error = report('error');
  const warning = report('warning');
  if (value.runs.length + value.checks.length + value.readings.length + value.injections.length === 0) {
    error('', 'there is nothing to assess; expected at least one run, check or reading');
  }
  refuseDuplicates(
    value.runs.map((r) => r.id),
    'runs',
    error,
  );
  refuseDuplicates(
    value.actions.map((a) => a.id),
    'actions',
    error,
  );
  refuseDuplicates(
    value.proofs.map((p) => p.id),
    'proofs',
    error,
  );
  refuseDuplicates(
    value.injections.map((i) => i.id),
    'injections',
    error,
  );
  const actions = new Map(value.actions.map((a, k) => [a.id, k]));
  const follows = (after: string | null, place: string): void => {
    if (after !== null && !actions.has(after))
      error(`${place}.after`, `"${clip(after)}" is no action; expected the id of one of the actions`);
  };
  value.runs.forEach((run, k) => {
    const place = `runs[${k}]`;
    if (run.file === null && run.typed === null)
      error(place, 'neither "file" nor "typed" is there; expected exactly one');
    if (run.file !== null && run.typed !== null)
      error(place, 'both "file" and "typed" are there; expected exactly one');
    if (run.file !== null) {
      const problem = pathProblem(run.file);
      if (problem) error(`${place}.file`, problem);
    }
    follows(run.after, place);
    const followed = value.actions.find((a) => a.id === run.after);
    if (followed?.runBefore === run.id)
      error(
        `${place}.after`,
        `run "${clip(run.id)}" is said to follow ${clip(followed.id)}, which names it as the run before; expected one or the other`,
      );
    const contradiction = feedContradiction(run);
    if (contradiction) warning(place, contradiction);
  });
  value.actions.forEach((action, k) => {
    if (action.runBefore !== null && !value.runs.some((r) => r.id === action.runBefore)) {
      warning(`actions[${k}].runBefore`, `"${clip(action.runBefore)}" is no run; kept, not used`);
    }
    const undone = action.undoes === null ? -1 : actions.get(action.undoes);
    const place = `actions[${k}].undoes`;
    if (undone === undefined)
      error(place, `"${clip(action.undoes ?? '')}" is no action; expected the id of an earlier action`);
    else if (undone === k) error(place, 'names the action itself; expected the id of an earlier action');
    else if (undone > k)
      error(place, `"${clip(action.undoes ?? '')}" comes later; expected the id of an earlier action`);
  });
  value.checks.forEach((check, k) => {
    checkCheck(check, `checks[${k}]`, error, warning);
    follows(check.after, `checks[${k}]`);
  });
  value.readings.forEach((reading, k) => {
    checkReading(reading, items(top.readings)[k], `readings[${k}]`, error, warning);
    follows(reading.after, `readings[${k}]`);
  });
  value.injections.forEach((injection, k) => follows(injection.after, `injections[${k}]`));
  value.proofs.forEach((proof, k) => {
    follows(proof.after, `proofs[${k}]`);
    const run = proof.run === null ? undefined : value.runs.find((r) => r.id === proof.run);
    if (proof.run !== null && !run)
      error(`proofs[${k}].run`, `"${clip(proof.run)}" is no run; expected the id of one of the runs`);
    else if (run && run.after !== proof.after)
      error(`proofs[${k}].run`, `run "${clip(run.id)}" belongs to another state of the device than the proof`);
  });
}

function refuseDuplicates(ids: string[], place: string, error: Report): void {
  const seen = new Map<string, number>();
  ids.forEach((id, k) => {
    const first = seen.get(id);
    if (first !== undefined)
      error(`${place}[${k}].id`, `"${clip(id)}" is already the id of ${place}[${first}]; expected an id of its own`);
    else seen.set(id, k);
  });
}

/** Why a path must not be followed; null where it stays inside. */
export function pathProblem(path: string): string | null {
  if (path.trim() === '') return 'is empty; expected a path inside the package';
  if (/^[/\\]|^[a-zA-Z]:/.test(path)) return `"${clip(path)}" is absolute; expected a path inside the package`;
  if (path.includes('\\') || path.includes('\0'))
    return `"${clip(path)}" holds a character that no path may; expected forward slashes`;
  if (path.split('/').some((step) => step === '..'))
    return `"${clip(path)}" leaves the package; expected a path inside it`;
  return null;
}

function feedContradiction(run: Run): string | null {
  const { feed, instrument, setup } = run;
  if (instrument.kind === 'usb-c-meter' && feed !== 'usb-c')
    return `the feed is ${feed}, but the instrument is a USB-C meter; used as stated`;
  if (instrument.kind === 'bench-supply' && feed === 'usb-c')
    return 'the feed is usb-c, but the instrument is a bench supply; used as stated';
  if (setup.setV === null) return null;
  const [low, high] = feed === 'battery' ? [2.5, 30] : feed === 'usb-c' ? [4, 50] : [4.5, 60];
  const fits = setup.setV >= low && setup.setV <= high;
  return fits ? null : `${setup.setV} V is unusual for a ${feed} feed; used as stated`;
}

function checkCheck(check: Check, place: string, error: Report, warning: Report): void {
  if (!isCheck(check.id)) {
    warning(`${place}.id`, `"${clip(check.id)}" is no check known here; kept, not used`);
    return;
  }
  const { outcomes } = checkTypes[check.id];
  if (check.outcome === null) {
    if (outcomes.length > 0) warning(`${place}.outcome`, 'is missing; kept, not used');
  } else if (outcomes.length > 0 && !outcomes.includes(check.outcome)) {
    error(
      `${place}.outcome`,
      `"${clip(check.outcome)}" is no outcome of ${check.id}; expected one of ${outcomes.join(', ')}`,
    );
  }
}

function checkReading(reading: Reading, raw: Raw, place: string, error: Report, warning: Report): void {
  const fits = reading.mode === 'resistance' ? 'ohm' : 'V';
  if (raw.unit != null && raw.unit !== fits) {
    error(`${place}.unit`, `${String(raw.unit)} does not fit the mode ${reading.mode}; expected ${fits}`);
  }
  if (reading.ol && reading.value !== null)
    error(`${place}.value`, 'there is a value although "ol" is true; expected null');
  if (!reading.ol && reading.value === null) error(`${place}.value`, 'is missing; expected a number, or "ol": true');
  if (reading.across && reading.state !== null)
    error(
      `${place}.across`,
      'is true although a power state is given; expected one or the other: across a part nothing is powered',
    );
  if (reading.swing && reading.swing.low > reading.swing.high)
    error(`${place}.swing`, `low ${reading.swing.low} is above high ${reading.swing.high}; expected low up to high`);
  if (reading.reference === null && !reading.across && reading.mode !== 'voltage')
    warning(`${place}.reference`, 'there is no reference to compare with');
}
