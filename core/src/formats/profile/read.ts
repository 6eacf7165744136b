import { clipText } from '../../quantity/index.ts';
import {
  compileProfile,
  ProfileProblem,
  type BatterySpec,
  type ConverterSpec,
  type LoadSpec,
  type PartSpec,
  type PeripheralSpec,
  type PortSpec,
  type Profile,
  type RailSpec,
  type ReferenceSpec,
  type StageSpec,
} from '../../twin/index.ts';
import { FormatError } from '../error.ts';
import type { Finding } from '../package/finding.ts';
import { readJson } from '../package/json.ts';
import { schemaHolds } from '../rules.ts';
import { profileSchema } from './schema.ts';
import { readYaml } from './yaml.ts';

const profileFormat = 'umbral-profile/1';

type Raw = Record<string, unknown>;

/** What a profile may leave out. A list that is left out is empty. */
const usual = {
  battery: { fullV: 0, emptyV: 0, data: null, needed: false, internalOhm: 0.1 },
  port: { contractNeeds: [], contracts: [5], limitA: 3 },
  rail: { circuit: '', capacitors: 1, depth: 3, half: null },
  converter: {
    efficiency: 1,
    ownA: 0,
    limitA: 10,
    ohm: 0.02,
    onOverload: 'limit',
    retryS: 0.25,
    enabledBy: ['power'],
    drivenBy: null,
    chargeA: 0,
    half: null,
  },
  load: { amps: {}, bursts: {}, ofDisplay: false, peripheral: null, half: null },
  part: { rail: null, peripheral: null, half: null },
  stage: { state: 'run', needs: [], screen: 'dark', fan: false, host: 'nothing' },
  need: { timeoutS: 1, then: 'hold' },
};

/** Several times what the largest board that ships has. */
const maxElements = 200;

/**
 * Reads a profile that came from outside, JSON or YAML. What it leaves out gets its usual value.
 *
 * @returns the profile, null where anything is wrong, and every finding with its path
 */
export function readProfile(bytes: Uint8Array, file: string): { profile: Profile | null; findings: Finding[] } {
  const findings: Finding[] = [];
  const error = (place: string, message: string): void => {
    findings.push({ severity: 'error', file, place, message });
  };
  let raw: unknown;
  try {
    raw = looksLikeJson(bytes) ? readJson(bytes, file) : readYaml(bytes, file);
  } catch (problem) {
    if (!(problem instanceof FormatError)) throw problem;
    error(problem.place, problem.problem);
    return { profile: null, findings };
  }
  const profile = parseProfile(raw, error);
  return { profile: findings.length > 0 ? null : profile, findings };
}

/** Checks a value that is already an object and gives it the usual values where it says nothing. */
function parseProfile(raw: unknown, error: (place: string, message: string) => void): Profile | null {
  if (raw === null || typeof raw !== 'object' || Array.isArray(raw)) {
    error('', 'expected an object with the keys of a profile');
    return null;
  }
  const top = raw as Raw;
  if (top.format !== profileFormat) {
    const said = top.format === undefined ? 'is missing' : `is ${clipText(JSON.stringify(top.format))}`;
    error('format', `${said}; expected "${profileFormat}"`);
    return null;
  }
  const lists = ['rails', 'converters', 'loads', 'parts', 'peripherals', 'stages', 'references'];
  for (const key of lists) {
    const value = top[key];
    if (Array.isArray(value) && value.length > maxElements) {
      error(key, `has ${value.length} entries; expected at most ${maxElements}`);
      return null;
    }
  }
  if (!schemaHolds(profileSchema, raw, error)) return null;
  const profile = complete(top);
  return meaningHolds(profile, error) ? profile : null;
}

function looksLikeJson(bytes: Uint8Array): boolean {
  const first = bytes.find((b) => b > 32 && b !== 0xef && b !== 0xbb && b !== 0xbf);
  return first === 0x7b || first === 0x5b;
}

/** Fills in what was left out; null and left out mean the same. */
function withUsual<T>(raw: unknown, values: object): T {
  const given = Object.entries((raw ?? {}) as Raw).filter(([, v]) => v !== null && v !== undefined);
  return { ...values, ...Object.fromEntries(given) } as T;
}

function complete(top: Raw): Profile {
  const items = <T extends { id: string; name?: string }>(key: string, values: object): T[] =>
    ((top[key] ?? []) as Raw[]).map((raw) => withUsual<T>(raw, { name: raw.id, ...values }));
  const battery = top.battery ? withUsual<BatterySpec>(top.battery, usual.battery) : null;
  if (battery) {
    battery.fullV ||= 1.1 * battery.nominalV;
    battery.emptyV ||= 0.82 * battery.nominalV;
  }
  return {
    format: profileFormat,
    id: top.id as string,
    name: (top.name as string | null) ?? (top.id as string),
    class: top.class as string,
    generic: top.generic === true,
    note: (top.note as string | null) ?? '',
    battery,
    ports: ((top.ports ?? []) as Raw[]).map((raw) => withUsual<PortSpec>(raw, usual.port)),
    dcIn: top.dcIn ? withUsual(top.dcIn, { limitA: 5 }) : null,
    startsOnPower: top.startsOnPower === true,
    brownOut: top.brownOut === 'off' ? 'off' : 'restart',
    restartS: (top.restartS as number | null) ?? 1,
    rails: items<RailSpec>('rails', usual.rail),
    converters: items<ConverterSpec>('converters', usual.converter),
    loads: items<LoadSpec>('loads', usual.load),
    parts: items<PartSpec>('parts', usual.part),
    peripherals: items<PeripheralSpec>('peripherals', {}),
    stages: items<StageSpec>('stages', usual.stage).map((s) => ({
      ...s,
      needs: s.needs.map((n) => withUsual(n, usual.need)),
    })),
    references: ((top.references ?? []) as Raw[]).map((raw) => withUsual<ReferenceSpec>(raw, { state: null })),
  };
}

/** What a schema cannot say: names that refer to one another, circles, a start that can never happen. */
function meaningHolds(profile: Profile, error: (place: string, message: string) => void): boolean {
  let holds = true;
  const say = (place: string, message: string): void => {
    holds = false;
    error(place, message);
  };
  if (!profile.battery && profile.ports.length === 0 && !profile.dcIn)
    say('', 'has neither a battery, nor a port, nor a DC input; expected at least one way to feed it');
  oneNameEach(profile, say);
  profile.rails.forEach((r, k) => {
    if (!(r.nominalV > 0)) say(`rails[${k}].nominalV`, 'must be above 0; expected volts');
  });
  profile.ports.forEach((p, k) => {
    const part = profile.parts.find((x) => x.id === p.controller);
    if (!part) say(`ports[${k}].controller`, `"${p.controller}" is not the id of a part`);
    p.contractNeeds.forEach((id, j) => {
      if (!profile.parts.some((x) => x.id === id))
        say(`ports[${k}].contractNeeds[${j}]`, `"${id}" is not the id of a part`);
    });
    if (p.contracts.length === 0) say(`ports[${k}].contracts`, 'is empty; expected at least 5');
  });
  if (
    profile.battery &&
    !(profile.battery.emptyV < profile.battery.nominalV && profile.battery.nominalV < profile.battery.fullV)
  )
    say('battery', 'expected emptyV below nominalV below fullV');
  const peripherals = new Set(profile.peripherals.map((p) => p.id));
  profile.loads.forEach((l, k) => {
    if (l.peripheral !== null && !peripherals.has(l.peripheral))
      say(`loads[${k}].peripheral`, `"${l.peripheral}" is not the id of a peripheral`);
  });
  profile.parts.forEach((p, k) => {
    if (p.peripheral !== null && !peripherals.has(p.peripheral))
      say(`parts[${k}].peripheral`, `"${p.peripheral}" is not the id of a peripheral`);
  });
  const rails = new Set(profile.rails.map((r) => r.id));
  profile.peripherals.forEach((p, k) => {
    if (!rails.has(p.rail)) say(`peripherals[${k}].rail`, `"${p.rail}" is not the id of a rail`);
  });
  stagesCanPass(profile, say);
  try {
    compileProfile(profile);
  } catch (problem) {
    if (!(problem instanceof ProfileProblem)) throw problem;
    say(problem.path, problem.problem);
  }
  return holds;
}

/** Elements are named in faults, checks and readings: one id, one thing. */
function oneNameEach(profile: Profile, say: (place: string, message: string) => void): void {
  const seen = new Map<string, string>([['battery', 'the battery']]);
  const lists: [string, { id: string }[]][] = [
    ['rails', profile.rails],
    ['converters', profile.converters],
    ['loads', profile.loads],
    ['parts', profile.parts],
    ['ports', profile.ports],
    ['peripherals', profile.peripherals],
    ['dcIn', profile.dcIn ? [profile.dcIn] : []],
  ];
  for (const [name, list] of lists) {
    list.forEach((item, k) => {
      const place = name === 'dcIn' ? 'dcIn.id' : `${name}[${k}].id`;
      const before = seen.get(item.id);
      if (before) say(place, `"${item.id}" is already the id of ${before}`);
      seen.set(item.id, place);
    });
  }
  const stages = new Set<string>();
  profile.stages.forEach((s, k) => {
    if (stages.has(s.id) || ['power', 'attached', 'adapter'].includes(s.id))
      say(`stages[${k}].id`, `"${s.id}" is already used`);
    stages.add(s.id);
  });
}

/** A stage that waits for a rail which only a later stage turns on, or for itself, would wait for ever. */
function stagesCanPass(profile: Profile, say: (place: string, message: string) => void): void {
  const ids = profile.stages.map((s) => s.id);
  const firstOn = new Map<string, number>();
  const early = new Set(['power', 'attached', 'adapter']);
  for (const root of [profile.battery?.rail, profile.dcIn?.rail, ...profile.ports.map((p) => p.rail)])
    if (root) firstOn.set(root, -1);
  for (let pass = 0; pass < profile.converters.length; pass++) {
    for (const c of profile.converters) {
      const from = firstOn.get(c.from);
      if (from === undefined) continue;
      const on = Math.min(
        ...c.enabledBy.map((id) => (early.has(id) ? -1 : ids.indexOf(id) < 0 ? Infinity : ids.indexOf(id))),
      );
      for (const out of c.to) firstOn.set(out, Math.min(firstOn.get(out) ?? Infinity, Math.max(from, on)));
    }
  }
  const parts = new Map(profile.parts.map((p) => [p.id, p]));
  profile.stages.forEach((stage, k) => {
    stage.needs.forEach((need, j) => {
      if (need.then === 'skip') return;
      const rail = parts.has(need.of) ? parts.get(need.of)?.rail : need.of;
      const at = rail == null ? -1 : firstOn.get(rail);
      const known = parts.has(need.of) || profile.rails.some((r) => r.id === need.of);
      if (!known && need.of === stage.id)
        say(`stages[${k}].needs[${j}].of`, `the stage "${stage.id}" waits for itself`);
      else if (at !== undefined && at > k) {
        const when = at === Infinity ? 'that nothing turns on' : `that only the stage "${ids[at]}" turns on`;
        say(`stages[${k}].needs[${j}].of`, `"${need.of}" runs from a rail ${when}; the stage would wait forever`);
      }
    });
  });
}
