import { checkTypes, isCheck } from '../../catalogue/index.ts';
import type { Case, Check, Proof, Reading, Run } from '../../case/index.ts';
import { clipText } from '../../quantity/index.ts';
import type { Finding } from './finding.ts';
import { pathProblem } from './path-problem.ts';
import { items, type Raw, type Report } from './raw.ts';

interface Reports {
  error: Report;
  warning: Report;
}

/** Halves that need no run to be known. */
const usualHalves = ['upper', 'lower'];

/** What the schema cannot say: references, exclusions, fits, and things that are kept with a warning. */
export function checkMeaning(value: Case, top: Raw, findings: Finding[]): void {
  const report = (severity: Finding['severity']) => (place: string, message: string) => {
    findings.push({ severity, file: 'case.json', place, message });
  };
  const reports: Reports = { error: report('error'), warning: report('warning') };
  const { error } = reports;
  if (value.runs.length + value.checks.length + value.readings.length + value.injections.length === 0) {
    error('', 'there is nothing to assess; expected at least one run, check or reading');
  }
  for (const list of ['runs', 'actions', 'proofs', 'injections'] as const)
    refuseDuplicates(
      value[list].map((item) => item.id),
      list,
      error,
    );
  const actions = new Map(value.actions.map((a, k) => [a.id, k]));
  const follows = ({ after }: { after: string | null }, place: string): void => {
    const k = after === null ? undefined : actions.get(after);
    if (after !== null && k === undefined)
      error(`${place}.after`, `"${clipText(after)}" is not an action; expected the id of one of the actions`);
    const action = k === undefined ? undefined : value.actions[k];
    if (action?.planned ?? action?.void)
      reports.warning(
        `${place}.after`,
        `"${clipText(action?.id ?? '')}" ${action?.planned ? 'is only planned' : 'is void'}; it counts after the change before that one`,
      );
  };
  for (const list of ['runs', 'checks', 'readings', 'injections', 'proofs'] as const)
    value[list].forEach((item, k) => follows(item, `${list}[${k}]`));
  value.runs.forEach((run, k) => checkRun(run, `runs[${k}]`, value, reports));
  value.actions.forEach((_, k) => checkAction(value, k, actions, reports));
  const halves = new Set(value.runs.flatMap((r) => (r.setup.half === null ? [] : [r.setup.half])));
  value.checks.forEach((check, k) => {
    checkCheck(check, `checks[${k}]`, reports);
    if (check.half !== null && !halves.has(check.half) && !usualHalves.includes(check.half))
      error(
        `checks[${k}].half`,
        `"${clipText(check.half)}" is not a half of this device; expected ${[...new Set([...halves, ...usualHalves])].map((h) => clipText(h)).join(' or ')}`,
      );
  });
  value.readings.forEach((reading, k) => checkReading(reading, items(top.readings)[k], `readings[${k}]`, reports));
  value.proofs.forEach((proof, k) => checkProof(proof, `proofs[${k}]`, value, reports));
  checkPlaces(value, top, reports);
  checkTimes(value, reports);
}

/** A time that lies before the change that its entry follows. */
function checkTimes(value: Case, { warning }: Reports): void {
  const doneAt = new Map(value.actions.flatMap((a) => (a.at === undefined ? [] : [[a.id, a.at]])));
  for (const list of ['runs', 'checks', 'readings', 'injections', 'proofs'] as const)
    value[list].forEach(({ at, after }, k) => {
      const change = after === null ? undefined : doneAt.get(after);
      if (at !== undefined && change !== undefined && Date.parse(at) < Date.parse(change))
        warning(
          `${list}[${k}].at`,
          `${at} is before "${clipText(after ?? '')}" (${change}), which it follows; the order of the lists is used`,
        );
    });
}

/** A place that was given two circuits: the later one holds. */
function checkPlaces({ places }: Case, top: Raw, { error, warning }: Reports): void {
  items(top.places).forEach(({ where, circuit, net, same }, k) => {
    if (typeof where !== 'string' && circuit != null)
      error(`places[${k}].where`, 'is missing; expected the name of the place');
    else if (circuit == null && net == null && same == null)
      error(`places[${k}]`, 'says nothing of the place; expected "circuit", "net" or "same"');
  });
  const named = new Map<string, string>();
  places.forEach(({ where, circuit }, k) => {
    const key = where.trim().replace(/\s+/g, ' ').toLowerCase();
    const before = named.get(key);
    if (circuit === null) return;
    if (before !== undefined && before !== circuit)
      warning(`places[${k}]`, `"${clipText(where)}" was ${before} before; the later name is used`);
    named.set(key, circuit);
  });
}

function checkRun(run: Run, place: string, { actions }: Case, { error, warning }: Reports): void {
  if (run.file === null && run.typed === null)
    error(place, 'neither "file" nor "typed" is given; expected exactly one');
  if (run.file !== null && run.typed !== null) error(place, 'both "file" and "typed" are given; expected exactly one');
  if (run.file !== null) {
    const problem = pathProblem(run.file);
    if (problem) error(`${place}.file`, problem);
  }
  const followed = actions.find((a) => a.id === run.after);
  if (followed?.runBefore === run.id)
    error(
      `${place}.after`,
      `run "${clipText(run.id)}" follows ${clipText(followed.id)}, which says it comes before; expected one or the other`,
    );
  const contradiction = feedContradiction(run);
  if (contradiction) warning(place, contradiction);
}

/** Changes that put a whole unit in, out or apart, and those that put in something good or the device's own. */
const hasUnit = new Set(['replace', 'trial', 'remove', 'refit', 'disconnect', 'reconnect', 'plug', 'split', 'join']);
const hasOrigin = new Set(['replace', 'trial', 'refit', 'plug', 'reconnect', 'join']);

function checkAction(value: Case, k: number, places: ReadonlyMap<string, number>, { error, warning }: Reports): void {
  const action = value.actions[k];
  if (action.runBefore !== null && !value.runs.some((r) => r.id === action.runBefore)) {
    warning(`actions[${k}].runBefore`, `"${clipText(action.runBefore)}" is not a run; saved but not used`);
  }
  if (action.unit !== null && !hasUnit.has(action.kind))
    error(
      `actions[${k}].unit`,
      `"${action.kind}" does not put a whole unit in or out; expected one of ${[...hasUnit].join(', ')}`,
    );
  if (action.with !== null && !hasOrigin.has(action.kind))
    warning(
      `actions[${k}].with`,
      `"${action.kind}" puts nothing in; expected with ${[...hasOrigin].join(', ')}. Saved but not used`,
    );
  if (action.undoes === null) return;
  const undone = places.get(action.undoes);
  const place = `actions[${k}].undoes`;
  if (undone === undefined)
    error(place, `"${clipText(action.undoes)}" is not an action; expected the id of an earlier action`);
  else if (undone === k) error(place, 'names the action itself; expected the id of an earlier action');
  else if (undone > k) error(place, `"${clipText(action.undoes)}" comes later; expected the id of an earlier action`);
}

function checkProof(proof: Proof, place: string, { runs }: Case, { error }: Reports): void {
  if (proof.run === null) return;
  const run = runs.find((r) => r.id === proof.run);
  if (!run) error(`${place}.run`, `"${clipText(proof.run)}" is not a run; expected the id of one of the runs`);
  else if (run.after !== proof.after)
    error(`${place}.run`, `run "${clipText(run.id)}" was recorded in another state of the device than the proof`);
}

function refuseDuplicates(ids: string[], place: string, error: Report): void {
  const seen = new Map<string, number>();
  ids.forEach((id, k) => {
    const first = seen.get(id);
    if (first !== undefined)
      error(`${place}[${k}].id`, `"${clipText(id)}" is already the id of ${place}[${first}]; expected a unique id`);
    else seen.set(id, k);
  });
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

function checkCheck(check: Check, place: string, { error, warning }: Reports): void {
  if (!isCheck(check.id)) {
    warning(`${place}.id`, `"${clipText(check.id)}" is not a known check; saved but not used`);
    return;
  }
  const { outcomes } = checkTypes[check.id];
  if (check.outcome === null) {
    if (outcomes.length > 0) warning(`${place}.outcome`, 'is missing; saved but not used');
  } else if (outcomes.length > 0 && !outcomes.includes(check.outcome)) {
    error(
      `${place}.outcome`,
      `"${clipText(check.outcome)}" is not an outcome of ${check.id}; expected one of ${outcomes.join(', ')}`,
    );
  }
}

function checkReading(reading: Reading, raw: Raw, place: string, { error, warning }: Reports): void {
  const fits = reading.mode === 'resistance' ? 'ohm' : 'V';
  if (raw.unit != null && raw.unit !== fits) {
    error(`${place}.unit`, `${String(raw.unit)} does not fit the mode ${reading.mode}; expected ${fits}`);
  }
  if (reading.ol && reading.value !== null)
    error(`${place}.value`, 'there is a value although "ol" is true; expected null');
  if (reading.says !== null && (reading.value !== null || reading.ol))
    error(`${place}.says`, 'is given together with a value; expected one or the other');
  if (reading.says !== null && reading.mode === 'voltage' && reading.says !== 'ok')
    error(`${place}.says`, `"${reading.says}" does not describe a voltage; expected "ok" or a value`);
  if (!reading.ol && reading.value === null && reading.says === null)
    error(`${place}.value`, 'is missing; expected a number, "ol": true or "says"');
  if (reading.bound !== null && reading.value === null)
    error(`${place}.bound`, 'is given without a value; expected the value of the bound');
  if (reading.across && reading.state !== null)
    error(
      `${place}.across`,
      'is true although a power state is given; expected one or the other. Readings across a part are made without power',
    );
  if (reading.swing && reading.swing.low > reading.swing.high)
    error(`${place}.swing`, `low ${reading.swing.low} is above high ${reading.swing.high}; expected low up to high`);
  if (reading.reference === null && !reading.across && reading.mode !== 'voltage')
    warning(`${place}.reference`, 'there is no reference to compare with');
}
