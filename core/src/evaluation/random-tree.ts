import { seededRandom } from '../trace/index.ts';
import type { ConverterSpec, Profile, RailSpec } from '../twin/index.ts';

/**
 * A made-up profile with a power tree of any size: a battery, rails that hang on one another at random, stages that enable
 * them, and a part on every third rail that the next stage waits for.
 *
 * @param rails how many rails besides the battery's
 */
export function randomTree(rails: number, seed: number): Profile {
  const random = seededRandom(seed);
  const pick = (n: number): number => Math.floor(random() * n);
  const stageCount = 5;
  const states = ['always', 'standby', 'standby', 'boot', 'run'];
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
    converters.push({
      id: `conv-${converters.length}`,
      name: `converter ${converters.length}`,
      kind: list[from].nominalV > 1.2 && random() < 0.7 ? 'buck' : 'switch',
      from: list[from].id,
      to,
      circuit: 'rail.run',
      efficiency: 0.9,
      ownA: 0.0001,
      limitA: 3,
      ohm: 0.01,
      onOverload: 'latch',
      retryS: 1,
      enabledBy: [stage < 0 ? 'power' : `stage-${stage}`],
      drivenBy: null,
      chargeA: 0,
      half: null,
    });
  }
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
    loads: list.slice(1).map((r) => ({
      id: `load-${r.id}`,
      name: `load of ${r.id}`,
      rail: r.id,
      circuit: 'radio',
      amps: { [`stage-${stageCount - 1}`]: 0.002, power: 0.0001 },
      bursts: {},
      ofDisplay: false,
      peripheral: null,
      half: null,
    })),
    parts: [
      {
        id: 'sequencer',
        name: 'sequencer',
        circuit: 'pmic',
        rail: 'batt',
        peripheral: null,
        half: null,
        role: 'sequencer',
      },
      { id: 'button', name: 'button', circuit: 'button', rail: null, peripheral: null, half: null, role: 'button' },
      ...needed.map(({ rail }) => ({
        id: `part-${rail}`,
        name: `part on ${rail}`,
        circuit: 'core.memory',
        rail,
        peripheral: null,
        half: null,
        role: 'memory' as const,
      })),
    ],
    peripherals: [],
    stages: Array.from({ length: stageCount }, (_, k) => ({
      id: `stage-${k}`,
      name: `stage ${k}`,
      state: states[k],
      seconds: 0.3,
      needs: needed
        .filter((n) => n.stage < k && n.stage >= k - 1)
        .map((n) => ({ of: n.rail, timeoutS: 1, then: 'off' as const })),
      screen: k < stageCount - 1 ? ('dark' as const) : ('image' as const),
      fan: false,
      host: 'nothing' as const,
    })),
    references: [],
  };
}

function railOf(id: string, nominalV: number, state: string, circuit: string): RailSpec {
  return { id, name: id, nominalV, state, circuit, capacitors: 4, depth: 3, half: null };
}
