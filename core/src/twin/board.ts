import { converterKinds, powerLevels, type OnTimeout, type Profile } from './profile.ts';
import settings from './settings.json';

/** Places in `converterKinds`, as the inner loop compares them. */
export const kindCode = { buck: 0, boost: 1, ldo: 2, switch: 3, charger: 4 } as const;

/** Thrown where a profile does not hold together; `path` says where. */
export class ProfileProblem extends Error {
  constructor(
    readonly path: string,
    readonly problem: string,
  ) {
    super(`${path}: ${problem}`);
    this.name = 'ProfileProblem';
  }
}

/**
 * A profile made ready for solving: ids turned into indices, rails ordered from the feeds down, currents laid out by
 * level. Built once for a profile and never changed afterwards.
 */
export interface Board {
  profile: Profile;
  /** Indices of rails such that a converter's input stands before its outputs. */
  order: number[];
  /** Place of a rail in `order`. */
  rank: number[];
  railIndex: Map<string, number>;
  converterIndex: Map<string, number>;
  partIndex: Map<string, number>;
  from: number[];
  to: number[][];
  /** Converters that leave a rail, and those that feed it. */
  leaving: number[][];
  feeding: number[][];
  loadRail: number[];
  partRail: number[];
  drivenBy: number[];
  /** Figures of rails and converters as flat arrays, for the inner loop. */
  nominalV: Float64Array;
  kind: Uint8Array;
  efficiency: Float64Array;
  ownA: Float64Array;
  limitA: Float64Array;
  ohm: Float64Array;
  /** Input voltage from which a converter runs. */
  minInV: Float64Array;
  /** What every stage waits for, as indices: a part, or else a rail. */
  needs: { id: string; part: number; rail: number; timeoutS: number; then: OnTimeout }[][];
  /** A switch with nothing but switches between it and a feed. */
  straight: boolean[];
  /** By `levelOf`: which converters are on, and the current and burst height of every load. */
  enabled: Uint8Array[];
  amps: Float64Array[];
  bursts: Float64Array[];
}

/**
 * Index of the tables for how far the device is.
 *
 * @param external 0: only the source is there; 1: a port controller has attached; 2: an adapter is accepted
 * @param stage -1 before the first stage
 */
export function levelOf(board: Pick<Board, 'profile'>, external: number, stage: number): number {
  return external * (board.profile.stages.length + 1) + stage + 1;
}

/**
 * @throws {ProfileProblem} for an unknown name, a circle of converters, or a rail that nothing feeds
 */
export function compileProfile(profile: Profile): Board {
  const railIndex = indexOf(profile.rails, 'rails');
  const converterIndex = indexOf(profile.converters, 'converters');
  const partIndex = indexOf(profile.parts, 'parts');
  const rail = (id: string, path: string): number => found(railIndex, id, path, 'a rail');
  const from = profile.converters.map((c, k) => rail(c.from, `converters[${k}].from`));
  const to = profile.converters.map((c, k) => c.to.map((id, j) => rail(id, `converters[${k}].to[${j}]`)));
  const leaving = profile.rails.map((_, r) => from.flatMap((f, c) => (f === r ? [c] : [])));
  const feeding = profile.rails.map((_, r) => to.flatMap((outs, c) => (outs.includes(r) ? [c] : [])));
  const roots = rootsOf(profile, rail);
  const order = orderRails(profile, from, to, feeding, roots);
  const rank = order.reduce<number[]>((places, r, k) => ((places[r] = k), places), []);
  const stages = profile.stages.map((s) => s.id);
  checkLevels(profile, stages);
  /** Everything reached so far, the latest last. */
  const reached: string[][] = [0, 1, 2].flatMap((external) =>
    [-1, ...stages.keys()].map((stage) => [...powerLevels.slice(0, external + 1), ...stages.slice(0, stage + 1)]),
  );
  return {
    profile,
    order,
    rank,
    railIndex,
    converterIndex,
    partIndex,
    from,
    to,
    leaving,
    feeding,
    loadRail: profile.loads.map((l, k) => rail(l.rail, `loads[${k}].rail`)),
    partRail: profile.parts.map((p, k) => (p.rail === null ? -1 : rail(p.rail, `parts[${k}].rail`))),
    drivenBy: profile.converters.map((c, k) =>
      c.drivenBy === null ? -1 : found(partIndex, c.drivenBy, `converters[${k}].drivenBy`, 'a part'),
    ),
    ...converterColumns(profile, from),
    needs: needsOf(profile, railIndex, partIndex),
    straight: straightSwitches(profile, order, from, feeding, roots),
    enabled: reached.map((levels) =>
      Uint8Array.from(profile.converters, (c) => Number(c.enabledBy.some((id) => levels.includes(id)))),
    ),
    amps: reached.map((levels) => Float64Array.from(profile.loads, (l) => latest(l.amps, levels))),
    bursts: reached.map((levels) => Float64Array.from(profile.loads, (l) => latest(l.bursts, levels, 1))),
  };
}

/** Every level that something is enabled at or draws at is one of the profile's. */
function checkLevels(profile: Profile, stages: readonly string[]): void {
  const known = new Set<string>([...powerLevels, ...stages]);
  const check = (id: string, path: string): void => {
    if (!known.has(id))
      throw new ProfileProblem(path, `"${id}" is neither a stage nor one of ${powerLevels.join(', ')}`);
  };
  profile.converters.forEach((c, k) => c.enabledBy.forEach((id, j) => check(id, `converters[${k}].enabledBy[${j}]`)));
  profile.loads.forEach((l, k) => {
    for (const id of Object.keys(l.amps)) check(id, `loads[${k}].amps.${id}`);
    for (const id of Object.keys(l.bursts)) check(id, `loads[${k}].bursts.${id}`);
  });
}

/** Volts by rail, and what is looked at again and again, by converter. */
function converterColumns(
  { rails, converters }: Profile,
  from: readonly number[],
): Pick<Board, 'nominalV' | 'kind' | 'efficiency' | 'ownA' | 'limitA' | 'ohm' | 'minInV'> {
  return {
    nominalV: Float64Array.from(rails, (r) => r.nominalV),
    kind: Uint8Array.from(converters, (c) => converterKinds.indexOf(c.kind)),
    efficiency: Float64Array.from(converters, (c) => c.efficiency),
    ownA: Float64Array.from(converters, (c) => c.ownA),
    limitA: Float64Array.from(converters, (c) => c.limitA),
    ohm: Float64Array.from(converters, (c) => c.ohm),
    minInV: Float64Array.from(converters, (c, k) =>
      c.kind === 'switch' ? settings.switchMinInV : settings.minInShare * rails[from[k]].nominalV,
    ),
  };
}

/** By stage, what it waits for: a part, or a rail. */
function needsOf(profile: Profile, railIndex: Map<string, number>, partIndex: Map<string, number>): Board['needs'] {
  return profile.stages.map((stage, k) =>
    stage.needs.map(({ of: id, timeoutS, then }, j) => {
      const part = partIndex.get(id) ?? -1;
      const rail = part < 0 ? found(railIndex, id, `stages[${k}].needs[${j}].of`, 'a rail or a part') : -1;
      return { id, part, rail, timeoutS, then };
    }),
  );
}

function indexOf(list: { id: string }[], path: string): Map<string, number> {
  const index = new Map<string, number>();
  list.forEach((item, k) => {
    if (index.has(item.id)) throw new ProfileProblem(`${path}[${k}].id`, `"${item.id}" is given twice`);
    index.set(item.id, k);
  });
  return index;
}

function found(index: Map<string, number>, id: string, path: string, what: string): number {
  const k = index.get(id);
  if (k === undefined) throw new ProfileProblem(path, `"${id}" is not the id of ${what}`);
  return k;
}

function rootsOf(profile: Profile, rail: (id: string, path: string) => number): Set<number> {
  const roots = new Set<number>();
  if (profile.battery) roots.add(rail(profile.battery.rail, 'battery.rail'));
  profile.ports.forEach((p, k) => roots.add(rail(p.rail, `ports[${k}].rail`)));
  if (profile.dcIn) roots.add(rail(profile.dcIn.rail, 'dcIn.rail'));
  return roots;
}

/** Topological order (Kahn 1962): a rail comes after the inputs of every converter that can feed it. */
function orderRails(
  profile: Profile,
  from: number[],
  to: number[][],
  feeding: number[][],
  roots: Set<number>,
): number[] {
  profile.rails.forEach((r, k) => {
    if (feeding[k].length === 0 && !roots.has(k)) throw new ProfileProblem(`rails[${k}]`, `nothing feeds "${r.id}"`);
  });
  const open = feeding.map((list) => new Set(list).size);
  const ready = profile.rails.flatMap((_, k) => (open[k] === 0 ? [k] : []));
  const order: number[] = [];
  for (let at = 0; at < ready.length; at++) {
    const r = ready[at];
    order.push(r);
    from.forEach((f, c) => {
      if (f !== r) return;
      for (const out of new Set(to[c])) if (--open[out] === 0) ready.push(out);
    });
  }
  if (order.length < profile.rails.length) {
    const circle = profile.rails.filter((_, k) => !order.includes(k)).map((r) => r.id);
    throw new ProfileProblem('converters', `the rails ${circle.join(', ')} feed each other in a circle`);
  }
  return order;
}

function straightSwitches(
  profile: Profile,
  order: number[],
  from: number[],
  feeding: number[][],
  roots: Set<number>,
): boolean[] {
  const straightRail: boolean[] = [];
  const isSwitch = (c: number): boolean => profile.converters[c].kind === 'switch';
  for (const r of order) straightRail[r] = roots.has(r) || feeding[r].some((c) => isSwitch(c) && straightRail[from[c]]);
  return profile.converters.map((_, c) => isSwitch(c) && straightRail[from[c]]);
}

/** The value at the latest level that names one; `lookBack` bounds how many levels it may lie behind. */
function latest(values: Record<string, number>, levels: string[], lookBack = Infinity): number {
  for (let k = levels.length - 1; k >= Math.max(0, levels.length - lookBack); k--) {
    const value = values[levels[k]];
    if (value !== undefined) return value;
  }
  return 0;
}
