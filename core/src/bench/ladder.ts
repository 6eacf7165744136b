import type { Reading } from '../case/index.ts';
import { formatVoltage } from '../quantity/index.ts';
import type { Board } from '../twin/index.ts';
import policy from './measuring.json';

/** Whether a rail stood when somebody measured it. */
export type RailFinding = 'present' | 'missing' | 'swinging' | 'low';

/** Where a rung of the ladder stands, and why it is known. */
export interface Rung {
  rail: number;
  /** What was measured last with the device in this phase; null where nobody did. */
  found: RailFinding | null;
  /** What follows from other rails; null where nothing does. */
  implied: 'present' | 'explained' | null;
  /** Rail from which it follows. */
  from: number | null;
}

/** Two findings that cannot both be so. */
export interface Contradiction {
  /** Stands although `missing`, which it needs, does not. */
  present: number;
  missing: number;
  likeliest: 'other-phase' | 'restarts' | 'backfed' | 'slipped';
  says: string;
}

/**
 * What every rail certainly needs: the rails that stand whenever it does. A rail that several converters can feed needs
 * only what all of them need; a converter needs its input, the rail of the part that drives it, and, where a stage turns
 * it on, what the stages up to that one wait for and do not skip.
 *
 * @returns by rail, the set of rails; transitive, without the rail itself
 */
export function needsOf(board: Board): Set<number>[] {
  const { profile } = board;
  const needs: Set<number>[] = profile.rails.map(() => new Set<number>());
  const stageNeeds = certainStageNeeds(board);
  for (const rail of board.order) {
    const ways = board.feeding[rail].map((c) => {
      const way = new Set<number>([board.from[c], ...needs[board.from[c]]]);
      const driver = board.drivenBy[c];
      const drivers = driver >= 0 && board.partRail[driver] >= 0 ? [board.partRail[driver]] : [];
      const enabled = intersection(profile.converters[c].enabledBy.map((level) => stageNeeds.get(level) ?? new Set()));
      for (const other of [...drivers, ...enabled]) {
        way.add(other);
        for (const below of needs[other]) way.add(below);
      }
      way.delete(rail);
      return way;
    });
    // A feed enters here: it stands without any converter.
    const isRoot = rootsOf(board).has(rail);
    needs[rail] = isRoot ? new Set() : intersection(ways);
  }
  return closed(needs);
}

function rootsOf(board: Board): Set<number> {
  const { battery, ports, dcIn } = board.profile;
  const ids = [battery?.rail, ...ports.map((p) => p.rail), dcIn?.rail].filter((id) => id !== undefined);
  return new Set(ids.map((id) => board.railIndex.get(id) ?? -1));
}

/** Rails that certainly stand once a level is reached: those that stages before it wait for without a way round. */
function certainStageNeeds(board: Board): Map<string, Set<number>> {
  const out = new Map<string, Set<number>>();
  const sofar = new Set<number>();
  board.profile.stages.forEach((stage, k) => {
    out.set(stage.id, new Set(sofar));
    for (const need of board.needs[k]) {
      if (need.then === 'skip') continue;
      if (need.rail >= 0) sofar.add(need.rail);
      else if (board.partRail[need.part] >= 0) sofar.add(board.partRail[need.part]);
    }
  });
  return out;
}

function intersection(sets: readonly Set<number>[]): Set<number> {
  if (sets.length === 0) return new Set();
  const [first, ...others] = sets;
  return new Set([...first].filter((x) => others.every((s) => s.has(x))));
}

/** Adds what is needed by what is needed, until nothing is added. A profile may enable in an order of its own. */
function closed(needs: Set<number>[]): Set<number>[] {
  for (let changed = true; changed;) {
    changed = false;
    needs.forEach((set, rail) => {
      for (const below of [...set])
        for (const deeper of needs[below])
          if (deeper !== rail && !set.has(deeper)) {
            set.add(deeper);
            changed = true;
          }
    });
  }
  return needs;
}

/**
 * What a voltage says about a rail. Below a quarter of what it is made for it is missing; between there and 85 % it is
 * low; one that swings is a rail that starts and stops.
 *
 * @param reading a voltage in volts, or the swing of one
 * @param nominalV volts the rail is made for, above 0
 */
export function findingOf(
  reading: Pick<Reading, 'mode' | 'value' | 'swing'> & { says?: Reading['says'] },
  nominalV: number,
): RailFinding | null {
  if (reading.mode === 'voltage' && reading.says === 'ok') return 'present';
  if (reading.mode !== 'voltage' || reading.value === null) return null;
  const { swing } = reading;
  if (swing && swing.high - swing.low > policy.swingShare * nominalV) return 'swinging';
  if (reading.value >= policy.standsFrom * nominalV) return 'present';
  return reading.value < policy.missingTo * nominalV ? 'missing' : 'low';
}

/**
 * The ladder with what follows from what was found: a rail that stands proves everything it needs; one that is missing
 * explains everything that needs it. Nothing follows for a rail that was measured itself.
 *
 * @param found by rail, in one phase (before the press, or after it); null where nobody measured
 */
export function rungsOf(needs: readonly Set<number>[], found: readonly (RailFinding | null)[]): Rung[] {
  const stands = found.flatMap((f, k) => (f === 'present' ? [k] : []));
  const lacks = found.flatMap((f, k) => (f === 'missing' ? [k] : []));
  return found.map((f, rail): Rung => {
    const rung: Rung = { rail, found: f, implied: null, from: null };
    if (f !== null) return rung;
    const above = stands.find((s) => needs[s].has(rail));
    if (above !== undefined) return { ...rung, implied: 'present', from: above };
    const below = lacks.filter((m) => needs[rail].has(m));
    // The lowest of them is what is to blame.
    const lowest = below.find((m) => below.every((other) => other === m || !needs[m].has(other)));
    return lowest === undefined ? rung : { ...rung, implied: 'explained', from: lowest };
  });
}

/**
 * Findings that cannot both be so, each with what most likely happened. Of one pair only the nearest is told: a rail that
 * stands over three missing ones is one question.
 *
 * @param phases by rail, whether the power button had been pressed when it was measured; null where nobody said
 * @param volts by rail, as measured
 */
export function contradictionsOf(
  board: Board,
  needs: readonly Set<number>[],
  found: readonly (RailFinding | null)[],
  phases: readonly (boolean | null)[],
  volts: readonly (number | null)[],
  restarts: boolean,
): Contradiction[] {
  const { rails } = board.profile;
  const out: Contradiction[] = [];
  found.forEach((f, present) => {
    if (f !== 'present' && f !== 'low') return;
    const lacking = [...needs[present]].filter((r) => found[r] === 'missing');
    const nearest = lacking.find((r) => !lacking.some((other) => other !== r && needs[other].has(r)));
    if (nearest === undefined) return;
    const [up, down] = [rails[present].name, rails[nearest].name];
    const v = volts[present];
    const share = v === null ? 1 : v / board.nominalV[present];
    const before = `${up} is up${v === null ? '' : ` at ${formatVoltage(v)}`} although ${down}, which feeds it, is missing.`;
    if (phases[present] !== null && phases[nearest] !== null && phases[present] !== phases[nearest])
      out.push({
        present,
        missing: nearest,
        likeliest: 'other-phase',
        says: `${before} One was measured before power-on and one after. Measure ${down} again in the same state as ${up}.`,
      });
    else if (restarts)
      out.push({
        present,
        missing: nearest,
        likeliest: 'restarts',
        says: `${before} The device is in a boot loop. Hold the probe on ${down} through a whole cycle, or enter the range it swings between.`,
      });
    else if (share >= policy.backfedFrom && share < policy.backfedTo)
      out.push({
        present,
        missing: nearest,
        likeliest: 'backfed',
        says: `${before} It is also low. Most likely it is back-fed through a part on another rail. Unplug what is easy to unplug and measure again.`,
      });
    else
      out.push({
        present,
        missing: nearest,
        likeliest: 'slipped',
        says: `${before} Most likely the probe missed ${down}. Measure it again at another point of the net.`,
      });
  });
  return out;
}
