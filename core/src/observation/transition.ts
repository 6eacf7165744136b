import type { CircuitId } from '../catalogue/index.ts';
import type { Action } from '../case/index.ts';
import { isSplit, partKind, shareOfUnit, swappedUnit, type Thing } from './assembly.ts';
import { isSamePart, likelySamePlace, nameOverlap, sameNetByName, suggestedCircuits } from '../hypotheses/index.ts';
import { takesAway } from '../prediction/index.ts';
import { elementsNamed, type Board } from '../twin/index.ts';
import rules from './changes.json';
import type { History } from './kind.ts';
import { isLocated } from './located.ts';
import { isContact } from './moved.ts';
import { faultStates, stateIndex, type FaultState } from './question.ts';

type Row = Partial<Record<FaultState, number>>;

/** A part from a donor, a reworked joint or another suffix, as somebody said, makes the result weaker; a whole good unit does not. */
export function isConfounded({ confounders, with: origin, unit }: Action): boolean {
  return confounders.length > 0 || (origin === 'good' && unit === null);
}

/** Whether what was worked on, or swapped to see, is all but certainly of a circuit. */
export const isOfCircuit = (action: Action, circuit: CircuitId): boolean =>
  circuitsOfChange(action)(circuit) >= rules.surelyOf;

/**
 * How likely the part that was worked on is of each circuit: as it was said; a whole unit by what sits on it; else as its words
 * have it; what has a plug by what has plugs; and any other part is one of many.
 */
function circuitsOfChange(action: Action): (circuit: CircuitId) => number {
  if (action.circuit !== null) return (circuit) => (circuit === action.circuit ? 1 : 0);
  const unit = swappedUnit(action);
  if (unit !== null) {
    return shareOfUnit(unit);
  }
  const said = suggestedCircuits(action.target);
  const itself = [...said.values()].filter((x) => x === Math.max(...said.values())).length;
  const { unplugs, anyPart } = rules.unnamed;
  const usual = (circuit: CircuitId): number =>
    ['disconnect', 'reconnect'].includes(action.kind)
      ? ((unplugs as Partial<Record<string, number>>)[circuit] ?? 0)
      : anyPart;
  if (said.size === 0) return usual;
  const strongest = Math.max(...said.values());
  const { named, near } = rules.unnamed;
  // What the words name is meant, shared among all that they name; what only stands beside it is met now and then.
  return (circuit) => {
    const factor = said.get(circuit);
    if (factor === undefined) return usual(circuit) * (1 - named);
    return factor === strongest && strongest > 2
      ? Math.max(named / itself, usual(circuit))
      : Math.max(near, usual(circuit));
  };
}

/** Share of the faults of a circuit that sit in parts of the kind that was worked on, 0 to 1; 1 where nobody said what it was. */
function partShare(circuit: CircuitId, target: string): number {
  const kind = partKind(target);
  if (kind === null) return 1;
  const shares = rules.parts.shares as Record<string, Partial<Record<string, number>>>;
  const row = shares[circuit] ?? (circuit.startsWith('rail.') ? shares.rail : shares.chip);
  return row[kind] ?? 1;
}

/** Whether a part that was worked on is what was seen to warm on the net of a place, or the place itself. */
function isAtPlace({ value }: Pick<History, 'value'>, action: Action, place: string): number {
  if (action.target === '' || ['disconnect', 'reconnect'].includes(action.kind)) return 0;
  if (likelySamePlace(action.target, place)) return 1;
  const warm = value.injections.some(
    (i) =>
      i.heat === 'one-spot' &&
      i.hot !== null &&
      isSamePart(i.hot, action.target) &&
      sameNetByName(i.rail, place) > rules.unnamed.onNet,
  );
  if (warm) return 1;
  return sameNetByName(action.target, place) * rules.unnamed.oneOfNet;
}

/**
 * How surely a change reaches the fault of every hypothesis: directly, and through what it feeds. Numbers from 0 to 1.
 *
 * @returns two numbers a hypothesis, 0 to 1
 */
export function reachOf(
  history: Pick<History, 'space' | 'value'>,
  action: Action,
): { direct: number[]; fed: number[] } {
  const { space } = history;
  if (action.byItself || isSplit(action)) return { direct: zeros(space), fed: zeros(space) };
  const base = (rules.reach as Record<string, number>)[action.kind];
  // A chip bears its name twice: as what answers and as what draws. Who works on it works on both.
  const ids = space.closeness === 'own' ? elementsNamed(space.twin.board.profile, action.target).map((e) => e.id) : [];
  const below = ids.length > 0 ? new Set(ids.flatMap((id) => [...fedBy(space.twin.board, id)])) : null;
  const takes = ['remove', 'disconnect', 'isolate'].includes(action.kind);
  const fedTable = (rules.fedThrough as Record<string, Record<string, number>>)[action.circuit ?? ''] ?? {};
  const likely = circuitsOfChange(action);
  const placeOf = new Map(space.places.map((p) => [p.key, p]));
  const direct = space.hypotheses.map((h) => {
    if (h.circuit === 'unmodelled') return 0;
    // A sound device that failed did so by what is outside it: its charger, its cable.
    if (h.circuit === 'none') return swappedUnit(action) === null ? 0 : likely('none');
    if (below) return h.fault && ids.includes(h.fault.at) ? rules.located : 0;
    const place = h.place === null ? null : (placeOf.get(h.place) ?? null);
    const share = partShare(h.circuit, action.target);
    const atPlace = place ? isAtPlace(history, action, place.name) : 0;
    if (atPlace >= 1 && (place?.circuit === null || likely(h.circuit) > 0 || action.circuit === null))
      return rules.located * Math.max(share, action.circuit === h.circuit ? 1 : rules.unnamed.otherKind);
    if (action.circuit === null && swappedUnit(action) === null && action.target === '')
      return action.kind === 'clean' || action.kind === 'other' ? rules.wholeBoard : 0;
    const p = likely(h.circuit);
    if (action.circuit !== null && isLocated(history, action.circuit, action.target)) return p * rules.located;
    if (swappedUnit(action) !== null) return p;
    const several = rules.severalParts.circuits.includes(h.circuit) ? Math.min(base, rules.severalParts.reach) : base;
    const reach = several * share;
    const wide = action.circuit === null && action.kind === 'clean' ? Math.max(p * reach, rules.wholeBoard) : p * reach;
    if (place && place.circuit === null)
      return Math.max(
        atPlace * base,
        action.circuit === null ? rules.unnamed.otherPlace * wide : rules.unnamed.otherPlace * p * reach,
      );
    if (place === null || h.target === null || action.target === '') return wide;
    if (nameOverlap(h.target, action.target) >= 0.5) return p * base;
    const namesAnother = space.places.some(
      (x) => x.circuit === h.circuit && x.key !== h.place && nameOverlap(x.name, action.target) >= 0.5,
    );
    return namesAnother ? p * rules.namedElsewhere * base : wide;
  });
  const fed = space.hypotheses.map((h) => {
    if (!takes) return 0;
    if (below) return h.fault && !ids.includes(h.fault.at) && below.has(h.fault.at) ? base : 0;
    return h.circuit === action.circuit ? 0 : (fedTable[h.circuit] ?? 0);
  });
  return { direct, fed };
}

const zeros = (space: History['space']): number[] => space.hypotheses.map(() => 0);

/** Ids of everything that certainly lives only through an element: its outputs and what hangs on them. */
function fedBy(board: Board, id: string): Set<string> {
  const { profile } = board;
  const out = new Set<string>();
  const converter = profile.converters.find((c) => c.id === id);
  const rails = new Set<string>(converter?.to ?? []);
  for (let grew = true; grew;) {
    grew = false;
    for (const c of profile.converters) {
      const isOnly = (rail: string): boolean =>
        profile.converters.filter((x) => x.to.includes(rail)).every((x) => x.id === id || rails.has(x.from));
      if (!rails.has(c.from)) continue;
      for (const rail of c.to)
        if (!rails.has(rail) && isOnly(rail)) {
          rails.add(rail);
          grew = true;
        }
    }
  }
  for (const rail of rails) out.add(rail);
  for (const c of profile.converters) if (rails.has(c.from)) out.add(c.id);
  for (const l of profile.loads) if (rails.has(l.rail)) out.add(l.id);
  for (const p of profile.peripherals) if (rails.has(p.rail)) out.add(p.id);
  for (const x of [...profile.parts, ...profile.loads]) if (x.peripheral === id) out.add(x.id);
  return out;
}

const row = (of: Row): number[] => faultStates.map((s) => of[s] ?? 0);

/**
 * Probability of going from one state to another over a change, by hypothesis and the place of its fault: rows and columns as in
 * `faultStates`. A thing that is moved changes how the device is put together, and hardly the fault.
 */
export function transitionOf(
  history: Pick<History, 'space' | 'value' | 'assemblies'>,
  action: Action,
): (h: number, place: number) => number[][] {
  const thing = history.assemblies.moved(action);
  return thing ? movedThing(history, action, thing) : reachedBy(history, action);
}

const renewing: readonly Action['kind'][] = ['plug', 'reconnect', 'refit', 'replace', 'trial'];

/** How likely a fault of a circuit is a contact that is made anew as a thing is put in: all plugs of a board, else its own. */
function renewedBy(thing: Thing, circuit: CircuitId): number {
  if (thing.id === 'board') return (rules.renewed.contacts as Partial<Record<CircuitId, number>>)[circuit] ?? 0;
  return isContact(circuit) ? rules.reach.plug * thing.share(circuit) : 0;
}

/** A thing that is moved: its contacts are new where it is plugged in, and something else may break on the way. */
function movedThing(
  { space, assemblies }: Pick<History, 'space' | 'assemblies'>,
  action: Action,
  thing: Thing,
): (h: number, place: number) => number[][] {
  const own = assemblies.things.indexOf(thing);
  const kinds = rules.kinds as Record<string, { hit: Row; miss: Row }>;
  const isRenewed = renewing.includes(action.kind);
  const [plugged, miss] = [row(kinds.plug.hit), row(kinds[action.kind].miss)];
  const comesBack = isRenewed && (action.with === 'own' || action.undoes !== null);
  const well = row(rules.whileWell);
  return (h, place) => {
    const { circuit } = space.hypotheses[h];
    const contact = isRenewed && place !== own ? renewedBy(thing, circuit) : 0;
    const table = faultStates.map((state) => keep(state));
    if (place === own) {
      const renewed = comesBack ? (thing.id === 'board' ? rules.renewed.board : rules.renewed.thing) : 0;
      table[stateIndex.same] = faultStates.map((s) => (s === 'works' ? renewed : s === 'same' ? 1 - renewed : 0));
    } else table[stateIndex.same] = miss.map((x, s) => contact * plugged[s] + (1 - contact) * x);
    table[stateIndex.works] = [...well];
    return table;
  };
}

function reachedBy(history: Pick<History, 'space' | 'value'>, action: Action): (h: number) => number[][] {
  if (action.byItself) return changedByItself(history);
  if (action.kind === 'isolate' && !isSplit(action)) return isolated(history, action);
  const kind = (rules.kinds as Record<string, { hit: Row; miss: Row }>)[action.kind];
  const { direct, fed } = reachOf(history, action);
  const doubt = isConfounded(action) ? rules.confounded : 1;
  const fromLacking = (rules.fromLacking as Partial<Record<string, Row>>)[action.kind];
  const [hit, miss] = [row(kind.hit), row(kind.miss)];
  // What worked because a part was away fails again when it is put back.
  const undone = history.value.actions.find((a) => a.id === action.undoes);
  const isSwapped = undone?.kind === 'replace' || undone?.kind === 'trial';
  const cause = undone && (isSwapped || takesAway.includes(undone.kind)) ? reachOf(history, undone).direct : null;
  const [well, failsAgain] = [row(rules.whileWell), row(rules.putBack)];
  const gone = row(rules.fedIsGone);
  return (h) => {
    const [d, f] = [direct[h] * doubt, fed[h]];
    const table = faultStates.map((): number[] => []);
    table[stateIndex.same] = faultStates.map((_, s) => d * hit[s] + (1 - d) * (f * gone[s] + (1 - f) * miss[s]));
    // A part that went with the fault comes back with it, or is replaced by a good one.
    const back = fromLacking && (direct[h] > 0 || action.undoes !== null) ? row(fromLacking) : keep('lacking');
    const reach = action.undoes !== null ? 1 : Math.max(direct[h], 0);
    table[stateIndex.lacking] = faultStates.map((_, s) => reach * back[s] + (1 - reach) * keep('lacking')[s]);
    const [same, altered] = [stateIndex.same, stateIndex.altered];
    const swapped = miss.map((x, s) => (s === altered ? miss[same] : s === same ? miss[altered] : x));
    table[altered] = faultStates.map((_, s) => d * hit[s] + (1 - d) * (f * gone[s] + (1 - f) * swapped[s]));
    const again = cause?.[h] ?? 0;
    table[stateIndex.works] = well.map((x, s) => again * failsAgain[s] + (1 - again) * x);
    table[stateIndex.other] = faultStates.map(
      (_, s) => (1 - rules.otherGoes) * keep('other')[s] + rules.otherGoes * keep('works')[s],
    );
    return table;
  };
}

const keep = (state: FaultState): number[] => row({ [state]: 1 });

/**
 * Two parts of a circuit are apart: nothing was repaired and nothing has left. What hangs on the other side of what was lifted is
 * cut off: it no longer draws down what it was fed from, and is measured by itself.
 */
function isolated({ space, value }: Pick<History, 'space' | 'value'>, action: Action): (h: number) => number[][] {
  const fed = (rules.fedThrough as Record<string, Record<string, number>>)[action.circuit ?? ''] ?? {};
  // Across what was lifted: the joint itself was the short.
  const miss = row(rules.kinds.isolate.miss);
  const cutOff = row(rules.kinds.isolate.hit);
  const isWarm = (circuit: CircuitId): boolean => value.injections.some((i) => i.hotCircuit === circuit);
  return (h) => {
    const { circuit } = space.hypotheses[h];
    // A transistor that lets the input through to the core reads free once its coil is off; one that is short to ground does not.
    const away = circuit === action.circuit ? rules.throughOwn : isWarm(circuit) ? 0 : (fed[circuit] ?? 0);
    const from = (state: FaultState): number[] => {
      const stays = keep(state);
      return state === 'same' ? faultStates.map((_, s) => away * cutOff[s] + (1 - away) * miss[s]) : stays;
    };
    return faultStates.map((state) => from(state));
  };
}

/** A fault that goes, or comes back, with nobody doing anything: contacts more often than others. */
function changedByItself({ space }: Pick<History, 'space'>): (h: number) => number[][] {
  const { byItself } = rules;
  return (h) => {
    const goes = recoversWithoutRepair(space.hypotheses[h].circuit);
    return faultStates.map((state) => {
      if (state === 'works') return row({ works: 1 - byItself.newState.returns, same: byItself.newState.returns });
      const out = row({ [state]: 1 - goes });
      out[stateIndex.works] += byItself.toWorks * goes;
      out[stateIndex.other] += (1 - byItself.toWorks) * goes;
      return out;
    });
  };
}

/**
 * How likely a fault of a circuit goes by itself between two looks at the device, 0 to 1: contacts more than others.
 *
 * @param circuit of the fault
 */
function recoversWithoutRepair(circuit: CircuitId): number {
  const { newState } = rules.byItself;
  return isContact(circuit) ? newState.contact : newState.any;
}

/** What may change between two runs with nobody doing anything: contacts more than others, and what a burn left behind. */
export function spontaneousOf({ space }: Pick<History, 'space'>, afterBurn: boolean): (h: number) => number[][] {
  const { byItself } = rules;
  return (h) => {
    const { circuit } = space.hypotheses[h];
    const p = afterBurn ? byItself.afterBurn : isContact(circuit) ? byItself.contact : byItself.any;
    return faultStates.map((_, from) => {
      const out = row({});
      out[from] = 1 - p;
      if (from === stateIndex.works) out[stateIndex.other] += p;
      else {
        out[stateIndex.works] += byItself.toWorks * p;
        out[stateIndex.other] += (1 - byItself.toWorks) * p;
      }
      return out;
    });
  };
}
