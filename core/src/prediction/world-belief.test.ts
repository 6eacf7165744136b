import { checkTypes, circuitIds, patternIds } from '../catalogue/index.ts';
import { type Run } from '../case/index.ts';
import { type Features, type PatternProbability } from '../shape/index.ts';
import { readTypedRun } from '../formats/index.ts';
import {
  afterMain,
  afterOutcome,
  afterPatterns,
  devicesBelieved,
  groupedWorlds,
  outcomeOfGroup,
  packWorlds,
  patternsExpected,
  priorWeights,
  unpackWorlds,
  usualSetupsOf,
  worldsOf,
  type Worlds,
} from './index.ts';

const laptop = worldsOf('generic-laptop') as Worlds;
const console_ = worldsOf('generic-console') as Worlds;
const at = (id: (typeof circuitIds)[number]): number => circuitIds.indexOf(id);
const perCircuit = (worlds: Worlds, weights: Float64Array): number[] => {
  const sums = circuitIds.map(() => 0);
  weights.forEach((x, w) => (sums[worlds.circuit[w]] += x));
  return sums;
};
const surely = (id: (typeof patternIds)[number]): PatternProbability[] => [{ id, p: 1 }];

test('a profile that no population is for has no worlds', () => expect(worldsOf('no-such')).toBeNull());

test('the weights of every circuit sum to 1, before and after anything', () => {
  let weights = priorWeights(laptop);
  const steps = [
    (w: Float64Array) => afterPatterns(laptop, w, ['usb-rest'], surely('unraised-low')),
    (w: Float64Array) => afterOutcome(laptop, w, 'charge-indicator', 'off'),
    (w: Float64Array) => afterPatterns(laptop, w, ['usb-pressed', 'usb-rest'], surely('dark-hold')),
  ];
  for (const step of [null, ...steps]) {
    if (step) weights = step(weights);
    perCircuit(laptop, weights).forEach((sum, c) => {
      if (laptop.circuit.includes(c)) expect([circuitIds[c], sum]).toEqual([circuitIds[c], expect.closeTo(1, 4)]);
    });
  }
});

test('what is expected of a run sums to 1 over the patterns for every circuit that has a world', () => {
  for (const setups of [['usb-rest'], ['usb-rest', 'usb-pressed'], ['battery-pressed']]) {
    const expected = patternsExpected(laptop, priorWeights(laptop), setups);
    circuitIds.forEach((circuit, c) => {
      const list = patternIds.map((id) => expected?.[id][c] ?? null);
      if (list.includes(null)) return expect([circuit, laptop.circuit.includes(c)]).toEqual([circuit, false]);
      expect(list.reduce<number>((sum, p) => sum + (p ?? 0), 0)).toBeCloseTo(1, 1);
    });
  }
  expect(patternsExpected(laptop, priorWeights(laptop), [])).toBeNull();
});

test('the groups of worlds that no check tells apart make up every circuit', () => {
  const groups = groupedWorlds(laptop, priorWeights(laptop));
  circuitIds.forEach((circuit, c) => {
    const sum = groups.reduce((total, { share }) => total + share[c], 0);
    expect([circuit, sum]).toEqual([circuit, laptop.circuit.includes(c) ? expect.closeTo(1, 9) : 0]);
  });
  for (const group of groups)
    outcomeOfGroup(laptop, group, 'charge-indicator').forEach((word, c) => {
      if (word !== null)
        expect([group.first[c] >= 0, checkTypes['charge-indicator'].outcomes]).toEqual([
          true,
          expect.arrayContaining([word]),
        ]);
    });
});

test('a world that shows what was seen gains within its circuit', () => {
  const before = patternsExpected(laptop, priorWeights(laptop), ['usb-rest']);
  const weights = afterPatterns(laptop, priorWeights(laptop), ['usb-rest'], surely('unraised-low'));
  const after = patternsExpected(laptop, weights, ['usb-rest']);
  for (const circuit of ['mgmt', 'usbc.controller'] as const)
    expect(after?.['unraised-low'][at(circuit)] ?? 0).toBeGreaterThan(before?.['unraised-low'][at(circuit)] ?? 1);
});

test('a main rail that stands says number of cells', () => {
  const circuits = circuitIds.map(() => 1 / circuitIds.length);
  const cells = (volts: number, option: string): number => {
    const believed = devicesBelieved(laptop, afterMain(laptop, priorWeights(laptop), volts), circuits);
    return laptop.devices.reduce((sum, d, k) => sum + (d.choices.cells === option ? believed[k] : 0), 0);
  };
  expect(cells(8.2, 'two')).toBeGreaterThan(0.85);
  expect(cells(11.6, 'three')).toBeGreaterThan(0.85);
  expect(cells(15.9, 'four')).toBeGreaterThan(0.85);
  // Nowhere near any of them: a rail that sags says nothing of the number.
  expect(cells(1.2, 'two')).toBeCloseTo(cells(0.4, 'two'), 9);
});

test('a raised contract means that whoever makes it lives', () => {
  const weights = afterPatterns(laptop, priorWeights(laptop), ['usb-rest'], surely('charge-normal'));
  const mute = (w: Float64Array): number =>
    groupedWorlds(laptop, w).reduce((sum, group) => {
      const isOff = outcomeOfGroup(laptop, group, 'charge-indicator')[at('mgmt')] === 'off';
      return sum + (isOff ? group.share[at('mgmt')] : 0);
    }, 0);
  expect(mute(weights)).toBeLessThan(mute(priorWeights(laptop)));
});

describe('which usual setups a run was made in', () => {
  const setups = (line: string, worlds = laptop, change: Partial<Run['setup']> = {}, prompted = false): string[] => {
    const { run } = readTypedRun(line, 'r1');
    return usualSetupsOf(worlds, { ...run, setup: { ...run.setup, ...change } }, { prompted } as Features);
  };
  test.each<[string, string, Partial<Run['setup']>, boolean, string[]]>([
    ['pressed on the battery feed', 'battery 11V: 0 | prompt 0.1 hold', {}, true, ['battery-pressed']],
    ['not pressed on the battery feed', 'battery 11V: 0 hold', {}, false, ['battery-rest']],
    [
      'on a port with the battery in, perhaps pressed',
      'usb-c: 5V 0.05 hold',
      { battery: 'connected' },
      false,
      ['usb-pressed', 'usb-rest'],
    ],
    ['on a port without one', 'usb-c: 5V 0.05 hold', { battery: 'disconnected' }, true, ['usb-alone-pressed']],
    ['on a port, nobody said', 'usb-c: 5V 0.05 hold', { battery: null }, true, ['usb-pressed', 'usb-alone-pressed']],
    ['running', 'usb-c: 5V 0.05 hold', { battery: 'connected', deviceState: 'running' }, false, ['usb-running']],
  ])('%s', (_, line, change, prompted, wanted) =>
    expect(setups(line, laptop, change, prompted).sort()).toEqual([...wanted].sort()),
  );
  test('a feed that no device has', () => expect(setups('battery 11V: 0 hold', console_)).toEqual([]));
  test('a voltage log is no start', () => {
    const { run } = readTypedRun('usb-c: 5V 0.05 hold', 'r1');
    expect(usualSetupsOf(laptop, { ...run, quantity: 'voltage-only' }, {} as Features)).toEqual([]);
  });
});

describe('worlds on disk', () => {
  test('come back as they were', () => {
    for (const worlds of [laptop, console_]) {
      const again = unpackWorlds(packWorlds(worlds));
      expect(again.devices).toEqual(worlds.devices);
      expect([...again.share]).toEqual([...worlds.share]);
      expect([...again.device]).toEqual([...worlds.device]);
      for (const [id, list] of Object.entries(worlds.patterns)) expect(again.patterns[id]).toEqual(list);
      expect(again.checks).toEqual(worlds.checks);
    }
  });
  test('are refused where they were cut off, or are something else', () => {
    const bytes = packWorlds(console_);
    for (const cut of [
      bytes.subarray(0, 2),
      bytes.subarray(0, 40),
      bytes.subarray(0, bytes.length - 7),
      new Uint8Array(50),
    ])
      expect(() => unpackWorlds(cut)).toThrow(RangeError);
  });
});
