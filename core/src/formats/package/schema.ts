import * as yup from 'yup';
import { actionKinds, circuitIds, complaintKinds, deviceClasses, outcomeGrades } from '../../catalogue/index.ts';
import {
  assemblies,
  batteryStates,
  boards,
  checkFields,
  chargers,
  contractKinds,
  deviceStates,
  displayStates,
  injectionFields,
  origins,
  proofFields,
  readingFields,
  swappedUnits,
  type Field,
  type Fields,
} from '../../case/index.ts';
import { above0, expected, flag, from0, gain, id, list, needed, number, oneOf, part, text } from '../rules.ts';
import { feeds } from '../../catalogue/index.ts';
import { instrumentKinds, markerEvents, quantities } from '../../trace/index.ts';

/** What a package may hold at most: a hundred times what a bench makes of a device. */
export const most = { runs: 1000, markers: 10_000, items: 1000 };

const isoTime = /^\d{4}-\d{2}-\d{2}([T ]\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:?\d{2})?)?$/;

/** What every entry may bear: when it was done, and that it counts for nothing. */
const entered = {
  at: text().test(
    'iso-time',
    'is not a time; expected an ISO time such as 2026-11-30T14:20:00Z',
    (x) => x == null || (isoTime.test(x) && !Number.isNaN(Date.parse(x))),
  ),
  void: part({ why: text() }),
};

/** Whose thing is in the device, in the words of a bench, with what a setup calls it. */
export const thingWords = {
  battery: { own: 'connected', good: 'known-good', none: 'absent' },
  display: { own: 'connected', good: 'known-good', none: 'disconnected' },
  charger: { own: 'own', good: 'known-good' },
  board: { own: 'own', good: 'known-good' },
} as const;

const things = {
  battery: oneOf([...batteryStates, 'own', 'good', 'none']),
  display: oneOf([...displayStates, 'own', 'good', 'none']),
  charger: oneOf([...chargers, 'good']),
  board: oneOf([...boards, 'good']),
};

const expect = {
  quiescentA: from0('current'),
  startPeakA: above0('current'),
  idleA: from0('current'),
  chargeA: above0('current'),
  contractV: above0('voltage'),
  dcV: above0('voltage'),
  ports: from0().max(99, 'expected at most 99 ports'),
  startsWithoutBattery: flag(),
  startsOnPower: flag(),
  batteryV: above0('voltage'),
  mainV: above0('voltage'),
};

const instrument = {
  kind: oneOf(instrumentKinds),
  rateHz: above0('frequency'),
  averagingS: from0('time'),
  resolutionA: from0('current'),
  resolutionV: from0('voltage'),
  gainA: gain(),
  offsetA: number('current'),
  gainV: gain(),
  offsetV: number('voltage'),
};

const setup = {
  setV: above0('voltage'),
  limitA: above0('current'),
  port: number()
    .integer('expected a whole number')
    .min(0, 'expected a port number from 0')
    .max(99, 'expected a port number up to 99'),
  flipped: flag(),
  ...things,
  assembly: oneOf(assemblies),
  half: text(),
  unplugged: list(yup.string().typeError(expected.string).required(expected.string)),
  deviceState: oneOf(deviceStates),
  batteryV: from0('voltage'),
  temperatureC: number('temperature'),
};

const intake = {
  liquid: flag(),
  dropped: flag(),
  priorRepair: flag(),
  batterySwollen: flag(),
  batteryIsolated: flag(),
  dataWanted: flag(),
  notes: text(),
  heard: list(yup.string().typeError(expected.string).required(expected.string)),
};

const contract = { kind: needed(contractKinds), volts: above0('voltage'), amps: from0('current') };

const swingEnd = () => number().required('is missing; expected a number');

/** What a package may hold in a field of a record. */
function ruleOf(
  key: string,
  { kind, byDefault, mayBeMissing, quantity, bound, missing, choices = [] }: Field<unknown>,
) {
  const mustBe = byDefault === undefined && !mayBeMissing;
  switch (kind) {
    case 'id':
      return id();
    case 'name':
      return id().label(key);
    case 'text':
      return text();
    case 'flag':
      return flag();
    case 'choice':
      return mustBe ? needed(choices) : oneOf(choices);
    case 'names':
      return list(yup.string().typeError(expected.string).required(expected.string));
    case 'span':
      return part({ low: swingEnd(), high: swingEnd() });
    case 'number': {
      const rule = bound === 'above 0' ? above0(quantity) : bound === 'from 0' ? from0(quantity) : number(quantity);
      return mustBe ? rule.required(missing) : rule;
    }
  }
}

const rulesOf = (fields: Fields): yup.ObjectShape =>
  Object.fromEntries(Object.entries(fields).map(([key, of]) => [key, ruleOf(key, of)]));

const run = {
  ...entered,
  id: id(),
  file: text(),
  typed: text(),
  feed: needed(feeds),
  quantity: oneOf(quantities),
  instrument: part(instrument),
  setup: part(setup),
  // Marker by marker below: a run may have many thousands.
  markers: yup.array().typeError(expected.array).max(most.markers).nullable(),
  contract: part(contract),
  after: text(),
};

const check = { ...entered, ...rulesOf(checkFields), setup: part({ ...things, half: text() }) };
const reading = { ...entered, ...rulesOf(readingFields) };
const injection = { ...entered, ...rulesOf(injectionFields) };

const action = {
  ...entered,
  planned: flag(),
  id: id(),
  kind: needed(actionKinds),
  circuit: oneOf(circuitIds),
  target: text(),
  note: text(),
  runBefore: text(),
  undoes: text(),
};

/** Notes of a change that have values of their own; the engine reads them with the other notes. */
const actionNotes = { stays: oneOf(['off']), unit: oneOf(swappedUnits), with: oneOf(origins) };

const place = {
  where: text(),
  circuit: oneOf(circuitIds),
  net: from0().integer('expected a whole number'),
  same: yup
    .array()
    .typeError(expected.array)
    .test('names', 'expected names of one place, or lists of them', (x) => (x ?? []).every(isName))
    .nullable(),
};

const isName = (x: unknown): boolean =>
  (typeof x === 'string' && x !== '' && x.length <= 200) || (Array.isArray(x) && x.every((y) => typeof y === 'string'));

const proof = { ...entered, ...rulesOf(proofFields) };

const outcome = { grade: needed(outcomeGrades), circuit: oneOf(circuitIds), target: text(), fix: text() };

const device = {
  class: needed(deviceClasses),
  model: text(),
  serial: text(),
  profile: text(),
  expect: part(expect),
};

export const caseSchema = part(
  {
    id: text(),
    device: part(device, true),
    complaint: text(),
    complaintKind: oneOf(complaintKinds),
    intake: part(intake),
    runs: list(part(run, true), most.runs),
    checks: list(part(check, true), most.items),
    readings: list(part(reading, true), most.items),
    injections: list(part(injection, true), most.items),
    actions: list(part({ ...action, ...actionNotes }, true), most.items),
    proofs: list(part(proof, true), most.items),
    places: list(part(place, true), most.items),
    outcome: part(outcome),
  },
  true,
);

/** Keys that are known at each level; what is beyond them is kept as `extra`. */
export const knownKeys = {
  case: [
    'format',
    'id',
    'device',
    'complaint',
    'complaintKind',
    'intake',
    'runs',
    'checks',
    'readings',
    'injections',
    'actions',
    'proofs',
    'places',
    'outcome',
  ],
  device: Object.keys(device),
  expect: Object.keys(expect),
  intake: Object.keys(intake),
  run: Object.keys(run),
  instrument: Object.keys(instrument),
  setup: Object.keys(setup),
  marker: ['t', 'event', 'note', 'inferred', 'said'],
  check: Object.keys(check),
  contract: Object.keys(contract),
  reading: Object.keys(reading),
  injection: Object.keys(injection),
  action: Object.keys(action),
  proof: Object.keys(proof),
  place: Object.keys(place),
  outcome: Object.keys(outcome),
};

/** What is wrong with a list of markers, as place and expectation; null where nothing is. */
export function markerProblem(markers: unknown[]): { place: string; problem: string } | null {
  for (let k = 0; k < markers.length; k++) {
    const marker = markers[k] as { t?: unknown; event?: unknown; said?: unknown } | null;
    if (marker === null || typeof marker !== 'object' || Array.isArray(marker))
      return { place: `[${k}]`, problem: expected.object };
    if (typeof marker.t !== 'number') return { place: `[${k}].t`, problem: 'expected a number of seconds' };
    if (marker.said !== undefined && typeof marker.said !== 'number')
      return { place: `[${k}].said`, problem: 'expected a number of seconds' };
    if (!markerEvents.includes(marker.event as never)) {
      return { place: `[${k}].event`, problem: `expected one of ${markerEvents.join(', ')}` };
    }
  }
  return null;
}
