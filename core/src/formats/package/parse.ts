import {
  emptyIntake,
  plainAction,
  plainCheck,
  readNotes,
  plainInjection,
  plainReading,
  unknownSetup,
  type Action,
  type Case,
  type Check,
  type Contract,
  type Extra,
  type Injection,
  type PlaceName,
  type Proof,
  type Reading,
  type Run,
} from '../../case/index.ts';
import { unknownInstrument } from '../../trace/index.ts';
import { clipText } from '../../quantity/index.ts';
import type { Finding } from './finding.ts';
import { caseSchema, knownKeys, markerProblem, most, thingWords } from './schema.ts';
import { checkMeaning } from './meaning.ts';
import { items, type Raw, type Report } from './raw.ts';
import { schemaHolds } from '../rules.ts';

export const caseFormat = 'umbral-case/1';

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
      `${top.format === undefined ? 'is missing' : `is ${clipText(JSON.stringify(top.format))}`}; expected "${caseFormat}"`,
    );
    return { case: null, findings };
  }
  if (!markersAreHeld(top, error)) return { case: null, findings };
  schemaHolds(caseSchema, raw, error);
  checkMarkers(top, error);
  if (findings.some((f) => f.severity === 'error')) return { case: null, findings };
  const value = toCase(top);
  checkMeaning(value, top, findings);
  return { case: findings.some((f) => f.severity === 'error') ? null : value, findings };
}

/** All runs together; what each list may hold its schema says. */
function markersAreHeld(top: Raw, error: Report): boolean {
  const runs = Array.isArray(top.runs) ? (top.runs as (Raw | null)[]) : [];
  let markers = 0;
  for (const run of runs) if (Array.isArray(run?.markers)) markers += run.markers.length;
  if (markers > most.markers) error('runs', `there are ${markers} markers; expected at most ${most.markers}`);
  return markers <= most.markers;
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
    checks: items(top.checks).map(toCheck),
    readings: items(top.readings).map(toReading),
    injections: items(top.injections).map((i) =>
      over<Injection>({ ...plainInjection, id: '', rail: '', setV: 1 }, i, knownKeys.injection),
    ),
    actions: items(top.actions).map((a): Action => {
      const { extra, planned, ...known } = over<Action>({ ...plainAction, id: '', kind: 'other' }, a, knownKeys.action);
      return { ...known, ...(planned ? { planned } : {}), ...readNotes(extra) };
    }),
    proofs: items(top.proofs).map((p) =>
      over<Proof>(
        { id: '', protocol: '', step: '', result: 'not-done', reason: '', run: null, check: null, after: null },
        p,
        knownKeys.proof,
      ),
    ),
    places: items(top.places).flatMap(toPlaces),
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
      ['id', 'file', 'typed', 'feed', 'quantity', 'after', 'at', 'void'],
    ),
    instrument: over(unknownInstrument, raw.instrument, knownKeys.instrument),
    setup: over({ ...unknownSetup, unplugged: [] }, asSetup(raw.setup), knownKeys.setup),
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

/** A setup in which the words of a bench for whose thing is in the device stand as a setup has them. */
function asSetup(raw: unknown): Raw {
  const setup = { ...((raw ?? {}) as Raw) };
  for (const [slot, words] of Object.entries(thingWords)) {
    const said = setup[slot];
    if (typeof said === 'string' && Object.hasOwn(words, said)) setup[slot] = words[said as keyof typeof words];
  }
  return setup;
}

function toCheck(raw: Raw): Check {
  const { setup: given, ...check } = over<Check>({ ...plainCheck, id: '', outcome: null }, raw, knownKeys.check);
  if (given === undefined) return check;
  const { half, ...setup } = asSetup(given) as NonNullable<Check['setup']> & { half?: string | null };
  return { ...check, half: check.half ?? half ?? null, ...(Object.keys(setup).length > 0 ? { setup } : {}) };
}

/** One place with its names; an entry that only says which names are one place gives one of each list of them. */
function toPlaces({ where, circuit, net, same }: Raw): PlaceName[] {
  const said = (same ?? []) as (string | string[])[];
  const rest = { circuit: (circuit ?? null) as PlaceName['circuit'], ...(typeof net === 'number' ? { net } : {}) };
  const flat = said.filter((x): x is string => typeof x === 'string');
  const lists = said.filter((x): x is string[] => Array.isArray(x));
  const own = typeof where === 'string' && where !== '' ? [where, ...flat] : flat;
  return [own, ...lists].flatMap(([first, ...others], k) =>
    first === undefined
      ? []
      : [{ where: first, ...(k === 0 ? rest : { circuit: null }), ...(others.length > 0 ? { same: others } : {}) }],
  );
}

function toReading(raw: Raw): Reading {
  const unit = raw.mode === 'resistance' ? 'ohm' : 'V';
  return over<Reading>({ ...plainReading, where: '', mode: 'voltage', value: null, unit }, raw, knownKeys.reading);
}
