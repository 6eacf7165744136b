import { Trial } from '../prediction/index.ts';
import {
  compileProfile,
  heatOf,
  makeWorkspace,
  type Board,
  type Fault,
  type Profile,
  type StartUp,
} from '../twin/index.ts';
import policy from './measuring.json';

/** Something that warms, with the watts that the twin puts into it. */
export interface HotPlace {
  /** Id in the profile. */
  id: string;
  name: string;
  kind: 'converter' | 'rail' | 'load' | 'peripheral';
  /** Watts at one instant. */
  watts: number;
  /** The same in a good unit. */
  healthyW: number;
  /** How far down the power tree: 0 where the feed enters. */
  level: number;
}

/** What to make of a place that was seen warm. */
interface HeatReading {
  /** The last hot place down the tree; null where nothing that was named is on it. */
  last: HotPlace | null;
  /** Hot, but only because what it feeds takes too much. */
  onTheWay: HotPlace[];
  says: string;
}

/** Late in the hold of the usual start-ups. */
const heldAtS = 25;

/**
 * How far every rail lies from the feeds, in converters.
 *
 * @returns by rail of the profile; 0 for a rail that is fed from outside
 */
export function levelsOf(board: Board): number[] {
  const level = board.profile.rails.map(() => 0);
  for (const rail of board.order) {
    const from = board.feeding[rail].map((c) => level[board.from[c]] + 1);
    level[rail] = from.length > 0 ? Math.min(...from) : 0;
  }
  return level;
}

/**
 * Where the power of a device goes at one instant, warmest first: what the twin predicts for a suspect, beside a good unit.
 * Converters and sense resistors on the way warm too, which is why watts and not only places are told.
 *
 * @param start a start-up with the suspect's fault
 * @param healthy the same start-up of a good unit
 * @param t seconds
 */
export function heatTree(board: Board, start: StartUp, healthy: StartUp, t: number): HotPlace[] {
  const { profile } = board;
  const level = levelsOf(board);
  const at = (s: StartUp) => {
    const segment = s.segments.find((x) => x.t0 <= t && t < x.t1) ?? s.segments.at(-1);
    return segment ? heatOf(board, s.circumstances.condition, segment.solution) : null;
  };
  const [sick, good] = [at(start), at(healthy)];
  if (!sick) return [];
  const places: HotPlace[] = [
    ...profile.converters.map((c, k) => ({
      id: c.id,
      name: c.name,
      kind: 'converter' as const,
      watts: sick.converters[k],
      healthyW: good?.converters[k] ?? 0,
      level: level[board.from[k]],
    })),
    ...profile.rails.map((r, k) => ({
      id: r.id,
      name: r.name,
      kind: 'rail' as const,
      watts: sick.shorts[k] + sick.loads[k],
      healthyW: (good?.shorts[k] ?? 0) + (good?.loads[k] ?? 0),
      level: level[k] + 0.5,
    })),
  ];
  return places.filter((p) => p.watts >= policy.minWarmW).sort((a, b) => b.watts - a.watts);
}

/**
 * Where a fault puts the power while the device holds where it got to, warmest first.
 *
 * @returns places with watts, the warmest first
 * @throws {ProfileProblem} where the profile does not hold together
 */
export function suspectHeat(profile: Profile, fault: Fault): HotPlace[] {
  const board = compileProfile(profile);
  const trial = new Trial(board, [fault], makeWorkspace(board));
  const good = trial.healthyTwin();
  const [sick, healthy] = [trial.bench() ?? trial.outside(), good.bench() ?? good.outside()];
  return sick && healthy ? heatTree(board, sick, healthy, heldAtS) : [];
}

/**
 * Reads what was seen warm on the power tree: the last hot element downstream is where to look, what lies on the way to it
 * warms because of it.
 *
 * @param warm ids of elements that were seen warm
 */
export function readHeat(
  board: Board,
  warm: readonly string[],
  spots: 'one' | 'uniform' | 'several' | null,
): HeatReading {
  const { profile, railIndex, converterIndex } = board;
  const level = levelsOf(board);
  const places = warm.flatMap((id): HotPlace[] => {
    const plain = { id, watts: 0, healthyW: 0 };
    const rail = railIndex.get(id);
    if (rail !== undefined)
      return [{ ...plain, name: profile.rails[rail].name, kind: 'rail', level: level[rail] + 0.5 }];
    const converter = converterIndex.get(id);
    if (converter !== undefined)
      return [
        { ...plain, name: profile.converters[converter].name, kind: 'converter', level: level[board.from[converter]] },
      ];
    const peripheral = profile.peripherals.find((p) => p.id === id);
    if (peripheral)
      return [
        {
          ...plain,
          name: peripheral.name,
          kind: 'peripheral',
          level: level[railIndex.get(peripheral.rail) ?? 0] + policy.loadLevel,
        },
      ];
    const load = profile.loads.findIndex((l) => l.id === id);
    if (load < 0) return [];
    return [
      { ...plain, name: profile.loads[load].name, kind: 'load', level: level[board.loadRail[load]] + policy.loadLevel },
    ];
  });
  const last = places.reduce<HotPlace | null>(
    (deepest, p) => (deepest === null || p.level > deepest.level ? p : deepest),
    null,
  );
  if (!last) return { last: null, onTheWay: [], says: 'No warm part is marked on the power tree yet.' };
  const feeds = feedersOf(board, last.id);
  const onTheWay = places.filter((p) => p !== last && feeds.has(p.id));
  const apart = places.filter((p) => p !== last && !feeds.has(p.id));
  const way = onTheWay.length > 0 ? ` ${onTheWay.map((p) => p.name).join(', ')} only carries that current.` : '';
  const other = apart.length > 0 ? ` ${apart.map((p) => p.name).join(', ')} is not in that path, so check it too.` : '';
  const even =
    spots === 'uniform'
      ? ' It warms evenly, like a working part. Judge the processor by its rails, not by its warmth.'
      : spots === 'one'
        ? ' It warms at one spot, which suggests damage.'
        : '';
  return { last, onTheWay, says: `${last.name} is the last warm part down the power tree.${way}${other}${even}` };
}

/** Ids of everything through which current reaches an element. */
function feedersOf(board: Board, id: string): Set<string> {
  const { profile, railIndex, converterIndex } = board;
  const out = new Set<string>();
  const load = profile.loads.findIndex((l) => l.id === id);
  const converter = converterIndex.get(id);
  const peripheral = profile.peripherals.find((p) => p.id === id);
  const open = [
    ...(peripheral ? [railIndex.get(peripheral.rail) ?? 0] : []),
    ...(load >= 0 ? [board.loadRail[load]] : []),
    ...(converter !== undefined ? [board.from[converter]] : []),
  ];
  const rail = railIndex.get(id);
  if (rail !== undefined) open.push(...upstream(board, rail, out));
  for (let r = open.pop(); r !== undefined; r = open.pop()) {
    if (out.has(profile.rails[r].id)) continue;
    out.add(profile.rails[r].id);
    open.push(...upstream(board, r, out));
  }
  return out;
}

/** Rails in front of a rail; notes the converters between. */
function upstream(board: Board, rail: number, out: Set<string>): number[] {
  return board.feeding[rail].map((c) => {
    out.add(board.profile.converters[c].id);
    return board.from[c];
  });
}
