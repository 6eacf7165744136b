import fc from 'fast-check';
import { compileProfile, shippedProfiles, startUp, usualSetup, type Profile } from '../../twin/index.ts';
import { readProfile } from './read.ts';
import { linesOfPlaces } from './yaml.ts';

const bytes = (value: unknown): Uint8Array =>
  new TextEncoder().encode(typeof value === 'string' ? value : JSON.stringify(value));
const minimal = {
  format: 'umbral-profile/1',
  id: 'small-lamp',
  class: 'other',
  battery: { rail: 'batt', nominalV: 3.8 },
  rails: [
    { id: 'batt', nominalV: 3.8, state: 'always', circuit: 'rail.main' },
    { id: 'logic', nominalV: 1.8, state: 'run', circuit: 'rail.run' },
  ],
  converters: [{ id: 'reg', kind: 'ldo', from: 'batt', to: ['logic'], circuit: 'pmic', enabledBy: ['start'] }],
  loads: [{ id: 'logic-load', rail: 'logic', circuit: 'core.soc', amps: { start: 0.05 } }],
  parts: [{ id: 'brain', circuit: 'pmic', role: 'sequencer' }],
  stages: [{ id: 'start', seconds: 1, needs: [{ of: 'logic' }] }],
};
const change = (edit: (p: Record<string, never>) => void): unknown => {
  const copy = structuredClone(minimal) as never;
  edit(copy);
  return copy;
};
const firstProblem = (value: unknown): string => {
  const { profile, findings } = readProfile(bytes(value), 'p.json');
  expect(profile).toBeNull();
  return `${findings[0].place}: ${findings[0].message}`;
};

test.each(shippedProfiles.map((p) => [p.id, p] as const))(
  'the shipped profile %s is read as it stands',
  (_, profile) => {
    const read = readProfile(bytes(profile), 'p.json');
    expect(read.findings).toEqual([]);
    expect(read.profile).toEqual(profile);
  },
);

test('the profiles of the fleet are full ones, with stacked boards and a controller for each port among them', () => {
  const fleet = shippedProfiles.filter((p) => !p.generic);
  for (const profile of fleet) expect(profile.rails.length).toBeGreaterThanOrEqual(20);
  expect(fleet.some((p) => p.rails.some((r) => r.half === 'upper') && p.rails.some((r) => r.half === 'lower'))).toBe(
    true,
  );
  const two = fleet.find((p) => p.ports.length === 2);
  expect(new Set(two?.ports.map((p) => p.controller)).size).toBe(2);
});

test('JSON and YAML are the same profile, and what is left out gets its usual value', () => {
  const yaml = `
format: umbral-profile/1
id: small-lamp
class: other
battery: { rail: batt, nominalV: 3.8 }
rails:
  - { id: batt, nominalV: 3.8, state: always, circuit: rail.main }
  - { id: logic, nominalV: 1.8, state: run, circuit: rail.run }
converters:
  - { id: reg, kind: ldo, from: batt, to: [logic], circuit: pmic, enabledBy: [start] }
loads:
  - { id: logic-load, rail: logic, circuit: core.soc, amps: { start: 0.05 } }
parts:
  - { id: brain, circuit: pmic, role: sequencer }
stages:
  - { id: start, seconds: 1, needs: [{ of: logic }] }
`;
  const [a, b] = [readProfile(bytes(minimal), 'p.json'), readProfile(bytes(yaml), 'p.yaml')];
  expect(a.findings).toEqual([]);
  expect(b.findings).toEqual([]);
  expect(b.profile).toEqual(a.profile);
  expect(a.profile?.converters[0]).toMatchObject({ name: 'reg', efficiency: 1, onOverload: 'limit', half: null });
  expect(a.profile?.stages[0].needs[0]).toEqual({ of: 'logic', timeoutS: 1, then: 'hold' });
});

const refused: [string, unknown, RegExp][] = [
  [
    'another version',
    { ...minimal, format: 'umbral-profile/2' },
    /^format: is "umbral-profile\/2"; expected "umbral-profile\/1"/,
  ],
  ['a list', [1], /expected an object/],
  ['an unknown class', { ...minimal, class: 'toaster' }, /^class: expected one of phone/],
  [
    'a negative voltage',
    change((p) => ((p.rails[0] as { nominalV: number }).nominalV = -1)),
    /^rails\[0\]\.nominalV: must not be negative/,
  ],
  [
    'an absurd current',
    change((p) => ((p.loads[0] as { amps: object }).amps = { start: 1e9 })),
    /^loads\[0\]\.amps: .*200 A/,
  ],
  [
    'an efficiency above one',
    change((p) => ((p.converters[0] as { efficiency: number }).efficiency = 1.2)),
    /^converters\[0\]\.efficiency: .*up to 1/,
  ],
  [
    'an unknown circuit',
    change((p) => ((p.rails[1] as { circuit: string }).circuit = 'rail.nowhere')),
    /^rails\[1\]\.circuit: expected one of/,
  ],
  [
    'a missing rail',
    change((p) => ((p.converters[0] as { to: string[] }).to = ['nowhere'])),
    /^converters\[0\]\.to\[0\]: "nowhere" is not the id of a rail/,
  ],
  [
    'a rail that nothing feeds',
    change((p) => (p.rails as object[]).push({ id: 'lost', nominalV: 1, state: 'run', circuit: 'rail.run' })),
    /^rails\[2\]: nothing feeds "lost"/,
  ],
  [
    'a circle',
    change((p) => {
      (p.rails as object[]).push(
        { id: 'a', nominalV: 1, state: 'run', circuit: 'rail.run' },
        { id: 'b', nominalV: 1, state: 'run', circuit: 'rail.run' },
      );
      (p.converters as object[]).push(
        { id: 'ab', kind: 'ldo', from: 'a', to: ['b'], circuit: 'pmic' },
        { id: 'ba', kind: 'ldo', from: 'b', to: ['a'], circuit: 'pmic' },
      );
    }),
    /^converters: the rails a, b feed each other in a circle/,
  ],
  [
    'a stage that waits for itself',
    change((p) => ((p.stages[0] as { needs: object[] }).needs = [{ of: 'start' }])),
    /^stages\[0\]\.needs\[0\]\.of: the stage "start" waits for itself/,
  ],
  [
    'a stage that waits for what comes later',
    change((p) => {
      (p.converters[0] as { enabledBy: string[] }).enabledBy = ['later'];
      (p.stages as object[]).push({ id: 'later', seconds: 1 });
    }),
    /"logic" runs from a rail that only the stage "later" turns on/,
  ],
  [
    'one id twice',
    change((p) => ((p.loads[0] as { id: string }).id = 'logic')),
    /^loads\[0\]\.id: "logic" is already the id of rails\[1\]\.id/,
  ],
  ['no way to feed it', change((p) => delete p.battery), /at least one way to feed it/],
  [
    'a level that is none',
    change((p) => ((p.loads[0] as { amps: object }).amps = { lunch: 1 })),
    /^loads\[0\]\.amps\.lunch: "lunch" is neither a stage/,
  ],
  ['malformed YAML', 'format: [umbral', /line 1, column \d+: the YAML is malformed/],
  ['aliases', 'format: &a umbral-profile/1\nid: *a', /aliases/],
];
test.each(refused)('refuses %s, with the path', (_, value, message) => {
  expect(firstProblem(value)).toMatch(message);
});

test('arbitrary bytes never crash the reader', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), (noise) => {
      expect(readProfile(noise, 'p').profile).toBeNull();
    }),
  );
});

/** Profiles as strange as they can be while they parse. */
const strange = fc
  .record({
    rails: fc.integer({ min: 2, max: 8 }),
    seed: fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 80, maxLength: 80 }),
  })
  .map(({ rails, seed }): unknown => {
    let at = 0;
    const next = (): number => seed[at++ % seed.length];
    const pick = <T>(list: readonly T[]): T => list[Math.min(list.length - 1, Math.floor(next() * list.length))];
    const stages = ['s1', 's2', 's3'];
    const railList = Array.from({ length: rails }, (_, k) => ({
      id: `r${k}`,
      nominalV: 0.5 + 20 * next(),
      state: 'run',
      circuit: 'rail.run',
    }));
    return {
      format: 'umbral-profile/1',
      id: 'strange',
      class: 'other',
      brownOut: pick(['restart', 'off']),
      restartS: 3 * next(),
      battery: { rail: 'r0', nominalV: railList[0].nominalV, internalOhm: next() },
      ports: [{ id: 'p1', rail: 'r0', controller: 'x1', contracts: [5, 9] }],
      rails: railList,
      converters: railList.slice(1).map((r, k) => ({
        id: `c${k}`,
        kind: pick(['buck', 'boost', 'ldo', 'switch', 'charger']),
        from: `r${Math.floor(next() * (k + 1))}`,
        to: [r.id],
        circuit: 'pmic',
        efficiency: 0.05 + 0.9 * next(),
        limitA: 10 * next(),
        onOverload: pick(['limit', 'hiccup', 'latch']),
        retryS: next(),
        enabledBy: [pick(['power', 'attached', 'adapter', ...stages])],
      })),
      loads: railList.map((r, k) => ({
        id: `l${k}`,
        rail: r.id,
        circuit: 'core.soc',
        amps: { [pick(['power', ...stages])]: 8 * next() },
        bursts: { s3: 3 * next() },
      })),
      parts: [{ id: 'x1', circuit: 'pmic', role: 'sequencer', rail: pick(['r0', null]) }],
      stages: stages.map((id) => ({
        id,
        seconds: next(),
        needs: [{ of: pick(['r0', 'x1']), timeoutS: next(), then: pick(['hold', 'off', 'restart', 'skip']) }],
      })),
    };
  });

test('a profile that parses never hangs or crashes the solver', () => {
  let solved = 0;
  fc.assert(
    fc.property(strange, fc.constantFrom('battery' as const, 'usb-c' as const), (value, feed) => {
      const { profile } = readProfile(bytes(value), 'p.json');
      if (!profile) return;
      solved++;
      const start = startUp(compileProfile(profile as Profile), [], {
        ...usualSetup,
        feed,
        battery: feed === 'usb-c',
        seconds: 30,
      });
      expect(start.segments.length).toBeLessThanOrEqual(1000);
      for (const s of start.segments) {
        expect(s.t1).toBeGreaterThan(s.t0);
        expect(Number.isFinite(s.meanA) && Number.isFinite(s.volts)).toBe(true);
        expect(s.meanA).toBeGreaterThanOrEqual(0);
        expect(s.meanA).toBeLessThanOrEqual(start.circumstances.condition.limitA + 1e-9);
      }
    }),
    { numRuns: 300 },
  );
  expect(solved).toBeGreaterThan(200);
});

describe('text that would take long', () => {
  const head = 'format: umbral-profile/1\n';
  const keys = (count: number): string => Array.from({ length: count }, (_, k) => `key${k}: 1\n`).join('');
  const placesOf = (text: string) => readProfile(bytes(text), 'p.yaml').findings;

  test('a hundred findings in 74 kB are found on their lines, and forty thousand keys are told apart, in a moment', () => {
    const began = performance.now();
    const many = 'many '.repeat(66).trim();
    const rails = Array.from({ length: 200 }, (_, k) => `  - { id: r${k}, nominalV: ${many}, state: run }\n`).join('');
    expect(rails.length).toBeGreaterThan(70_000);
    const found = placesOf(`${head}rails:\n${rails}`);
    const lines = linesOfPlaces(
      `${head}rails:\n${rails}`,
      found.map((f) => f.place),
    );
    expect(lines.filter((line) => line !== null && line > 2).length).toBeGreaterThan(50);
    placesOf(head + keys(40_000));
    expect(performance.now() - began).toBeLessThan(10_000);
  });

  test('a key that stands twice is said with its line, also deep inside', () => {
    expect(placesOf(`${head}id: a\nid: b\n`)[0]).toMatchObject({
      place: 'line 3, column 1',
      message: 'this key is given twice',
    });
    expect(placesOf(`${head}battery:\n  rail: a\n  rail: b\n`)[0]).toMatchObject({ place: 'line 4, column 3' });
  });

  test('beyond 500 kB is no profile', () => expect(placesOf(head + keys(80_000))[0].message).toContain('above 500 kB'));
});
