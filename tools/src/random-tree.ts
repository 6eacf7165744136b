import {
  type CircuitId,
  type RailState,
  seededRandom,
  type Random,
  type ConverterSpec,
  type Profile,
  type RailSpec,
} from '@umbral/core';

/**
 * A made-up profile with a power tree of any size: a battery, rails that hang on one another at random, stages that enable
 * them, and a part on every third rail that the next stage waits for.
 *
 * @param rails how many rails besides the battery's
 */
export function randomTree(rails: number, seed: number): Profile {
  const { list, converters, level } = randomRails(rails, seededRandom(seed));
  const needed = list.flatMap((r, k) => (k > 0 && k % 3 === 0 ? [{ rail: r.id, stage: level[k] }] : []));
  return {
    format: 'umbral-profile/1',
    id: `tree-${rails}-${seed}`,
    name: `Made-up tree ${seed}`,
    class: 'phone',
    generic: false,
    note: '',
    battery: { rail: 'batt', nominalV: 3.8, fullV: 4.35, emptyV: 3.2, data: null, needed: false, internalOhm: 0.05 },
    ports: [],
    dcIn: null,
    startsOnPower: false,
    brownOut: 'off',
    restartS: 1,
    rails: list,
    converters,
    loads: list.slice(1).map(loadOn),
    parts: [
      partOn('sequencer', 'pmic', 'batt', 'sequencer'),
      partOn('button', 'button', null, 'button'),
      ...needed.map(({ rail }) => partOn(`part-${rail}`, 'core.memory', rail, 'memory')),
    ],
    peripherals: [],
    stages: Array.from({ length: stageCount }, (_, k) => stageOf(k, needed)),
    references: [],
  };
}

const stageCount = 5;
const states: RailState[] = ['always', 'standby', 'standby', 'boot', 'run'];

interface Tree {
  list: RailSpec[];
  converters: ConverterSpec[];
  /** By rail, the stage that enables it; -1 for what is always there. */
  level: number[];
}

function randomRails(rails: number, random: Random): Tree {
  const pick = (n: number): number => Math.floor(random() * n);
  const list: RailSpec[] = [railOf('batt', 3.8, 'always', 'rail.main')];
  const converters: ConverterSpec[] = [];
  const level: number[] = [-1];
  while (list.length <= rails) {
    const from = pick(list.length);
    const stage = Math.min(stageCount - 1, Math.max(level[from], pick(stageCount + 1) - 1));
    const outputs = random() < 0.2 ? 2 : 1;
    const to: string[] = [];
    for (let k = 0; k < outputs && list.length <= rails; k++) {
      const id = `rail-${list.length}`;
      const nominalV = Math.min(list[from].nominalV, [0.9, 1.1, 1.8, 3.3][pick(4)]);
      list.push(railOf(id, nominalV, stage < 0 ? 'always' : states[stage], stage < 2 ? 'rail.always-on' : 'rail.run'));
      level.push(stage);
      to.push(id);
    }
    const kind = list[from].nominalV > 1.2 && random() < 0.7 ? 'buck' : 'switch';
    converters.push(converterOf(converters.length, kind, list[from].id, to, stage < 0 ? 'power' : `stage-${stage}`));
  }
  return { list, converters, level };
}

function converterOf(
  at: number,
  kind: 'buck' | 'switch',
  from: string,
  to: string[],
  enabledBy: string,
): ConverterSpec {
  return {
    id: `conv-${at}`,
    name: `converter ${at}`,
    kind,
    from,
    to,
    circuit: 'rail.run',
    efficiency: 0.9,
    ownA: 0.0001,
    limitA: 3,
    ohm: 0.01,
    onOverload: 'latch',
    retryS: 1,
    enabledBy: [enabledBy],
    drivenBy: null,
    chargeA: 0,
    half: null,
  };
}

function loadOn({ id }: RailSpec): Profile['loads'][number] {
  return {
    id: `load-${id}`,
    name: `load of ${id}`,
    rail: id,
    circuit: 'radio',
    amps: { [`stage-${stageCount - 1}`]: 0.002, power: 0.0001 },
    bursts: {},
    ofDisplay: false,
    peripheral: null,
    half: null,
  };
}

type Part = Profile['parts'][number];

function partOn(id: string, circuit: Part['circuit'], rail: string | null, role: Part['role']): Part {
  const name = rail !== null && id.startsWith('part-') ? `part on ${rail}` : id;
  return { id, name, circuit, rail, peripheral: null, half: null, role };
}

function stageOf(k: number, needed: readonly { rail: string; stage: number }[]): Profile['stages'][number] {
  return {
    id: `stage-${k}`,
    name: `stage ${k}`,
    state: states[k],
    seconds: 0.3,
    needs: needed
      .filter((n) => n.stage < k && n.stage >= k - 1)
      .map((n) => ({ of: n.rail, timeoutS: 1, then: 'off' as const })),
    screen: k < stageCount - 1 ? 'dark' : 'image',
    fan: false,
    host: 'nothing',
  };
}

function railOf(id: string, nominalV: number, state: RailState, circuit: CircuitId): RailSpec {
  return { id, name: id, nominalV, state, circuit, capacitors: 4, depth: 3, half: null };
}
