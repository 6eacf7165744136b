import { namedChecks } from '../catalogue/index.ts';
import type { CircuitId } from '../catalogue/index.ts';
import { sayMeasured, type Injection, type Reading } from '../case/index.ts';
import { isSamePart, sameNetShare, samePlace } from '../hypotheses/index.ts';
import { formatCurrent, formatVoltage } from '../quantity/index.ts';
import { atProbe, elementNamed } from '../twin/index.ts';
import type { History } from './kind.ts';
import { ohmOf } from './injected-ohm.ts';
import { isHealthy } from './observed-run.ts';
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

/** A measurement to ground, by whatever it was taken: ohms, diode mode, a word, a check, or what flowed when it was fed. */
export interface Found {
  where: string;
  circuit: CircuitId | null;
  ohm: number | null;
  epoch: number;
  isShort: boolean;
  /** As it was shown, in words. */
  says: string;
  /** What the meter showed, in its unit; null for a word or an open line. */
  value: number | null;
  unit: 'ohm' | 'V';
  /** Worked out from what flowed when it was fed. */
  isFed?: true;
}

/** Everything that was measured to ground, in the order of the changes. */
export function groundFindings(history: History): Found[] {
  const all = [...foundByReading(history), ...foundByCheck(history), ...foundByInjection(history)];
  return all.sort((a, b) => a.epoch - b.epoch);
}

/** Shorts by point, the latest finding of each point decides. */
export function shortsOf(history: History): MeasuredShort[] {
  const out: MeasuredShort[] = [];
  const found = groundFindings(history);
  for (const one of found) {
    const known = out.find((s) => samePlace(s.where, one.where)) ?? out.find((s) => isSamePoint(s, one));
    if (known) {
      // Gone at its own point and found at another of its net: there it is now.
      const where = known.isGone ? one.where : known.where;
      known.isGone = !one.isShort;
      if (one.isShort)
        Object.assign(known, {
          where,
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
  // One fault is one short, seen at many points: where one of them went with a change, so did those not measured since.
  const freed = found.filter((f) => !f.isShort && f.epoch > 0 && out.some((s) => s.isGone && isSamePoint(s, f)));
  const left = out.filter((s) => !s.isGone).map((s) => ({ short: s, epoch: leftWithItsPart(history, s, found) }));
  for (const { short, epoch } of left) if (epoch > 0) short.isGone = true;
  const epoch = Math.max(0, ...freed.map((f) => f.epoch), ...left.map((x) => x.epoch));
  const isStill = found.some((f) => f.isShort && f.epoch >= epoch);
  if (epoch > 0 && !isStill) for (const short of out) short.isGone = true;
  return out;
}

/** Whether two findings are of one place, or, over a change, of one net: a good neighbour makes no short go away. */
export function isSamePoint(a: Pick<Found, 'where' | 'circuit' | 'epoch'>, b: Found): boolean {
  if (samePlace(a.where, b.where)) return true;
  const isOneNet = a.circuit !== null && a.circuit === b.circuit && sameNetShare(a.circuit) === 1;
  return isOneNet && (a.epoch !== b.epoch || b.isShort);
}

/**
 * A short left with the part that was taken off or replaced at it, or that warmed when it was fed: nothing that was measured
 * there since finds it again, and something else was found well since then or nothing was measured at all.
 *
 * @returns the state of the device since which it is gone; 0 where it is not
 */
function leftWithItsPart({ value, epochOf, seen }: History, short: MeasuredShort, found: readonly Found[]): number {
  const works = [
    ...seen.filter((s) => isHealthy(s) && s.run.setup.assembly !== 'half').map((s) => epochOf(s.run.after)),
    ...value.checks.filter((c) => c.half === null && showsItWorks(c)).map((c) => epochOf(c.after)),
  ];
  const since = works.filter((epoch) => epoch > short.epoch);
  if (since.length > 0) return Math.min(...since);
  const acted = value.actions.findIndex(
    (a, k) =>
      k >= short.epoch &&
      ['remove', 'replace'].includes(a.kind) &&
      (isSamePart(a.target, short.where) || (short.hot !== null && isSamePart(a.target, short.hot))),
  );
  if (acted < 0) return 0;
  const isFound = found.some((f) => f.epoch > acted && f.isShort && (isSamePoint(short, f) || f.circuit === null));
  return isFound ? 0 : acted + 1;
}

function circuitAt({ space }: History, where: string, circuit: CircuitId | null): CircuitId | null {
  if (circuit !== null || space.closeness !== 'own') return circuit;
  return elementNamed(space.twin.board.profile, where, atProbe)?.circuit ?? null;
}

function isCore(circuit: CircuitId | null): boolean {
  return circuit !== null && readings.coreCircuits.includes(circuit);
}

/** Whether a reading finds its place short to ground; null where it says nothing of that. */
export function readsShort(history: History, r: Reading): boolean | null {
  const sense = senseOf(r, history.value.device.expect, placeBefore(history, r));
  if (sense.of !== 'ground') return null;
  // A processor rail is low by nature: one that reads a fraction of a good one is worth feeding all the same.
  // So is what beeps.
  const isLow = sense.word === 'low' && (isCore(r.circuit) || r.mode === 'diode' || r.says === 'beep');
  return sense.word === 'short' || isLow;
}

function foundByReading(history: History): Found[] {
  return history.value.readings.flatMap((r): Found[] => {
    const isShort = readsShort(history, r);
    if (isShort === null) return [];
    const ohm = r.mode === 'resistance' ? r.value : null;
    const circuit = circuitAt(history, r.where, r.circuit);
    const shown = { says: sayMeasured(r), value: r.value, unit: r.unit };
    return [{ where: r.where, circuit, ohm, epoch: history.epochOf(r.after), isShort, ...shown }];
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
      says: check.outcome === 'normal' ? 'no short' : (check.outcome ?? ''),
      value: null,
      unit: 'ohm',
    }));
}

function foundByInjection(history: History): Found[] {
  return history.value.injections.flatMap((i): Found[] => {
    const ohm = ohmOf(i);
    const circuit = circuitAt(history, i.rail, i.circuit);
    if (ohm === null || isCore(circuit)) return [];
    const shown = { says: sayFed(i), value: ohm, unit: 'ohm' as const };
    const epoch = history.epochOf(i.after);
    return [{ where: i.rail, circuit, ohm, epoch, isShort: ohm < readings.partialOhm, isFed: true, ...shown }];
  });
}

/** What flowed when a rail was fed. */
const sayFed = ({ setV, amps }: Injection): string => `${formatCurrent(amps)} at ${formatVoltage(setV)}`;

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
