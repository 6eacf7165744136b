import { namedChecks } from '../catalogue/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import { likelySamePlace, placeName, samePlace } from '../hypotheses/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import type { History } from './kind.ts';
import { ohmOf } from './injected-ohm.ts';
import { isHealthy } from './observed-run.ts';
import { isSamePart } from './part-states.ts';
import { placeBefore } from './reading-question.ts';
import { senseOf } from './reading-sense.ts';
import { showsItWorks } from './works.ts';
import readings from './readings.json';

/** A short that was measured: where, how much, and whether it is still there. */
export interface MeasuredShort {
  where: string;
  /** Null while nobody knows which rail it is. */
  circuit: CircuitId | null;
  /** Ohms; null where only a diode reading or a word says so. */
  ohm: number | null;
  epoch: number;
  /** A later reading of the same point found it gone. */
  isGone: boolean;
  /** Something warmed there when it was fed. */
  hot: string | null;
  hotCircuit: CircuitId | null;
  /** How often it was fed already. */
  fed: number;
}

interface Found {
  where: string;
  circuit: CircuitId | null;
  ohm: number | null;
  epoch: number;
  isShort: boolean;
  /** Worked out from what flowed when it was fed. */
  isFed?: true;
}

/** Shorts by point, the latest finding of each point decides. */
export function shortsOf(history: History): MeasuredShort[] {
  const out: MeasuredShort[] = [];
  const found = [...foundByReading(history), ...foundByCheck(history), ...foundByInjection(history)];
  for (const one of found.sort((a, b) => a.epoch - b.epoch)) {
    const known = out.find((s) => isSamePoint(s, one));
    if (known) {
      known.isGone = !one.isShort;
      if (one.isShort)
        Object.assign(known, {
          epoch: one.epoch,
          // What a meter showed is kept; volts over amperes of a feed only stand in for it.
          ohm: one.isFed ? known.ohm : (one.ohm ?? known.ohm),
          circuit: known.circuit ?? one.circuit,
        });
    } else if (one.isShort) out.push({ ...one, isGone: false, ...fedAt(history, one) });
  }
  // A camera at the same circuit counts as well.
  for (const short of out) {
    const seen = history.value.checks.findLast(
      (c) => c.id === namedChecks.heat && c.outcome === 'one-spot' && c.circuit !== null && c.circuit === short.circuit,
    );
    if (seen && short.hot === null) Object.assign(short, { hot: seen.where, hotCircuit: seen.circuit });
  }
  for (const short of out) if (!short.isGone && wentWithItsPart(history, short, found)) short.isGone = true;
  // One fault is one short, seen at many points: where one of them was found free after a change, so are those not measured since.
  const freed = found.filter((f) => !f.isShort && f.epoch > 0 && out.some((s) => s.isGone && isSamePoint(s, f)));
  const epoch = Math.max(0, ...freed.map((f) => f.epoch));
  const isStill = found.some((f) => f.isShort && f.epoch >= epoch);
  if (epoch > 0 && !isStill) for (const short of out) short.isGone = true;
  return out;
}

function isSamePoint(a: Found | MeasuredShort, b: Found): boolean {
  if (a.circuit !== null && b.circuit !== null && a.circuit !== b.circuit)
    return placeName(a.where) === placeName(b.where) && placeName(a.where) !== '';
  if (a.circuit === 'rail.main' && b.circuit === 'rail.main') return true;
  return a.circuit === b.circuit && a.circuit !== null
    ? samePlace(a.where, b.where)
    : likelySamePlace(a.where, b.where);
}

/**
 * A short left with the part that was taken off or replaced at it, or that warmed when it was fed: nothing that was measured
 * there since finds it again, and something else was found well since then or nothing was measured at all.
 */
function wentWithItsPart({ value, epochOf, seen }: History, short: MeasuredShort, found: readonly Found[]): boolean {
  const works = [
    ...seen.filter((s) => isHealthy(s) && s.run.setup.assembly !== 'half').map((s) => epochOf(s.run.after)),
    ...value.checks.filter((c) => c.half === null && showsItWorks(c)).map((c) => epochOf(c.after)),
  ];
  if (works.some((epoch) => epoch > short.epoch)) return true;
  const acted = value.actions.findIndex(
    (a, k) =>
      k >= short.epoch &&
      ['remove', 'replace'].includes(a.kind) &&
      (isSamePart(a.target, short.where) || (short.hot !== null && isSamePart(a.target, short.hot))),
  );
  if (acted < 0) return false;
  const since = found.filter((f) => f.epoch > acted);
  return !since.some((f) => f.isShort && (isSamePoint(short, f) || f.circuit === null));
}

function circuitAt({ space }: History, where: string, circuit: CircuitId | null): CircuitId | null {
  if (circuit !== null || space.closeness !== 'own') return circuit;
  return elementNamed(space.twin.board.profile, where, atProbe)?.circuit ?? null;
}

function isCore(circuit: CircuitId | null): boolean {
  return circuit !== null && readings.coreCircuits.includes(circuit);
}

function foundByReading(history: History): Found[] {
  return history.value.readings.flatMap((r): Found[] => {
    const sense = senseOf(r, history.value.device.expect, placeBefore(history, r));
    if (sense.of !== 'ground') return [];
    // A processor rail is low by nature: one that reads a fraction of a good one is worth feeding all the same.
    const isShort = sense.word === 'short' || (sense.word === 'low' && (isCore(r.circuit) || r.mode === 'diode'));
    const ohm = r.mode === 'resistance' ? r.value : null;
    const circuit = circuitAt(history, r.where, r.circuit);
    return [{ where: r.where, circuit, ohm, epoch: history.epochOf(r.after), isShort }];
  });
}

function foundByCheck({ value, epochOf }: History): Found[] {
  return value.checks
    .filter((check) => check.id === namedChecks.mainRail && check.outcome !== null)
    .map((check) => ({
      where: check.where || 'main system rail',
      circuit: 'rail.main',
      ohm: null,
      epoch: epochOf(check.after),
      isShort: check.outcome !== 'normal',
    }));
}

function foundByInjection(history: History): Found[] {
  return history.value.injections.flatMap((i): Found[] => {
    const ohm = ohmOf(i);
    const circuit = circuitAt(history, i.rail, i.circuit);
    if (ohm === null || isCore(circuit)) return [];
    return [
      { where: i.rail, circuit, ohm, epoch: history.epochOf(i.after), isShort: ohm < readings.partialOhm, isFed: true },
    ];
  });
}

/** How often a short was fed, and what warmed then. */
function fedAt(history: History, one: Found): Pick<MeasuredShort, 'hot' | 'hotCircuit' | 'fed'> {
  const fed = history.value.injections.filter((i) =>
    isSamePoint(one, { ...one, where: i.rail, circuit: circuitAt(history, i.rail, i.circuit) }),
  );
  const warm =
    fed.filter((i) => i.heat === 'one-spot' || i.heat === 'several-spots').at(-1) ??
    fed.findLast((i) => i.heat === 'uniform');
  return { hot: warm?.hot ?? null, hotCircuit: warm?.hotCircuit ?? (warm ? one.circuit : null), fed: fed.length };
}
