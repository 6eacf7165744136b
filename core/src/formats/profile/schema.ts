import * as yup from 'yup';
import { circuitIds, deviceClasses } from '../../catalogue/index.ts';
import { railStates, readingModes } from '../../case/index.ts';
import { converterKinds, onTimeouts, overloadKinds, partRoles } from '../../twin/index.ts';
import { expected, flag, from0, id, list, needed, number, oneOf, part, text } from '../rules.ts';

/** Nothing on a bench of this kind is beyond these: a slip of a decimal point is told from a figure. */
const most = { volts: 60, amps: 200, ohms: 1e6, seconds: 3600 };

const upTo = (limit: number, unit: string, needsValue: boolean) => {
  const rule = from0().test(
    'bounded',
    `is more than a device has; expected at most ${limit} ${unit}`,
    (x) => x == null || x <= limit,
  );
  return needsValue ? rule.test('given', `is missing; expected a number of ${unit}`, (x) => x != null) : rule;
};
const volts = (needsValue = false) => upTo(most.volts, 'V', needsValue);
const amps = (needsValue = false) => upTo(most.amps, 'A', needsValue);
const ohms = () => upTo(most.ohms, 'ohm', false);
const seconds = (needsValue = false) => upTo(most.seconds, 's', needsValue);
const circuit = () => needed(circuitIds.filter((c) => c !== 'none' && c !== 'unmodelled'));
const elementId = () =>
  id().matches(
    /^[A-Za-z0-9][A-Za-z0-9._+-]*$/,
    'expected letters, digits, dot, plus, dash or underscore, without spaces',
  );
const amount = (limit: number) =>
  number().test(
    'whole',
    `expected a whole number from 0 to ${limit}`,
    (x) => x == null || (Number.isInteger(x) && x >= 0 && x <= limit),
  );

/** A table of currents by level. */
const byLevel = () =>
  yup
    .mixed<Record<string, number>>()
    .nullable()
    .test('by-level', `expected an object of currents by level, each from 0 to ${most.amps} A`, (x) => {
      if (x == null) return true;
      if (typeof x !== 'object' || Array.isArray(x)) return false;
      return Object.values(x).every((a) => typeof a === 'number' && a >= 0 && a <= most.amps);
    });

const rail = {
  id: elementId(),
  name: text(),
  nominalV: volts(true),
  state: needed(railStates),
  circuit: circuit(),
  capacitors: amount(10_000),
  depth: amount(5),
  half: text(),
};

const converter = {
  id: elementId(),
  name: text(),
  kind: needed(converterKinds),
  from: id(),
  to: list(id()).test('outputs', 'is missing; expected at least one rail', (x) => Array.isArray(x) && x.length > 0),
  circuit: circuit(),
  efficiency: number().test('share', 'expected a number above 0 and up to 1', (x) => x == null || (x > 0 && x <= 1)),
  ownA: amps(),
  limitA: amps(),
  ohm: ohms(),
  onOverload: oneOf(overloadKinds),
  retryS: seconds(),
  enabledBy: list(id()),
  drivenBy: text(),
  chargeA: amps(),
  half: text(),
};

const load = {
  id: elementId(),
  name: text(),
  rail: id(),
  circuit: circuit(),
  amps: byLevel(),
  bursts: byLevel(),
  ofDisplay: flag(),
  peripheral: text(),
  half: text(),
};

const partOf = {
  id: elementId(),
  name: text(),
  circuit: circuit(),
  rail: text(),
  peripheral: text(),
  half: text(),
  role: needed(partRoles),
};

const need = { of: id(), timeoutS: seconds(), then: oneOf(onTimeouts) };

const stage = {
  id: elementId(),
  name: text(),
  state: oneOf(railStates),
  seconds: seconds(true),
  needs: list(part(need, true)),
  screen: oneOf(['dark', 'backlight-only', 'logo', 'image']),
  fan: flag(),
  host: oneOf(['nothing', 'recovery', 'normal']),
};

const battery = {
  rail: id(),
  nominalV: volts(true),
  fullV: volts(),
  emptyV: volts(),
  data: text(),
  needed: flag(),
  internalOhm: ohms(),
};

const port = {
  id: elementId(),
  rail: id(),
  controller: id(),
  contractNeeds: list(id()),
  busNeedsController: flag(),
  contracts: list(volts(true)),
  limitA: amps(),
};

export const profileSchema = yup
  .object({
    id: elementId(),
    name: text(),
    class: needed(deviceClasses),
    generic: flag(),
    note: text(),
    battery: part(battery),
    ports: list(part(port, true)),
    dcIn: part({ id: elementId(), rail: id(), volts: volts(true), limitA: amps() }),
    startsOnPower: flag(),
    brownOut: oneOf(['restart', 'off']),
    restartS: seconds(),
    rails: list(part(rail, true)),
    converters: list(part(converter, true)),
    loads: list(part(load, true)),
    parts: list(part(partOf, true)),
    peripherals: list(part({ id: elementId(), name: text(), rail: id(), circuit: circuit() }, true)),
    stages: list(part(stage, true)),
    references: list(part({ where: id(), mode: needed(readingModes), value: from0(), state: oneOf(railStates) }, true)),
  })
  .typeError(expected.object);
