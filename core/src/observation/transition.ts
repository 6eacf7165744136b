import type { Action } from '../case/index.ts';
import { nameOverlap } from '../hypotheses/index.ts';
import { takesAway } from '../prediction/index.ts';
import { elementsNamed, type Board } from '../twin/index.ts';
import rules from './changes.json';
import type { History } from './kind.ts';
import { isLocated } from './located.ts';
import { isContact } from './moved.ts';
import { faultStates, stateIndex, type FaultState } from './question.ts';

type Row = Partial<Record<FaultState, number>>;

/** A donor part, a reworked joint or another suffix makes the result weaker. */
export function isConfounded(action: Action): boolean {
  return (
    action.confounders.length > 0 ||
    /\b(donor|used|rework(ed)?|variant|suffix|salvaged?|second[- ]hand|scrap(ped)?|provisional)\b/i.test(
      `${action.note} ${action.target}`,
    )
  );
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
  const base = (rules.reach as Record<string, number>)[action.kind];
  // A chip bears its name twice: as what answers and as what draws. Who works on it works on both.
  const ids = space.closeness === 'own' ? elementsNamed(space.twin.board.profile, action.target).map((e) => e.id) : [];
  const below = ids.length > 0 ? new Set(ids.flatMap((id) => [...fedBy(space.twin.board, id)])) : null;
  const located = action.circuit !== null && isLocated(history, action.circuit, action.target);
  const fedTable = (rules.fedThrough as Record<string, Record<string, number>>)[action.circuit ?? ''] ?? {};
  const takes = ['remove', 'disconnect', 'isolate'].includes(action.kind);
  const direct = space.hypotheses.map((h) => {
    if (h.circuit === 'none' || h.circuit === 'unmodelled') return 0;
    if (below) return h.fault && ids.includes(h.fault.at) ? rules.located : 0;
    if (action.circuit === null) return action.kind === 'clean' || action.kind === 'other' ? rules.wholeBoard : 0;
    if (h.circuit !== action.circuit) return 0;
    if (located) return rules.located;
    const several = rules.severalParts.circuits.includes(h.circuit) ? Math.min(base, rules.severalParts.reach) : base;
    if (h.place === null || h.target === null || action.target === '') return several;
    if (nameOverlap(h.target, action.target) >= 0.5) return base;
    const namesAnother = space.places.some(
      (p) => p.circuit === h.circuit && p.key !== h.place && nameOverlap(p.name, action.target) >= 0.5,
    );
    return namesAnother ? rules.namedElsewhere * base : several;
  });
  const fed = space.hypotheses.map((h) => {
    if (!takes) return 0;
    if (below) return h.fault && !ids.includes(h.fault.at) && below.has(h.fault.at) ? base : 0;
    return h.circuit === action.circuit ? 0 : (fedTable[h.circuit] ?? 0);
  });
  return { direct, fed };
}

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

/** Probability of going from one state to another over a change, by hypothesis: rows and columns as in `faultStates`. */
export function transitionOf(history: Pick<History, 'space' | 'value'>, action: Action): (h: number) => number[][] {
  const kind = (rules.kinds as Record<string, { hit: Row; miss: Row }>)[action.kind];
  const { direct, fed } = reachOf(history, action);
  const doubt = isConfounded(action) ? rules.confounded : 1;
  const fromLacking = (rules.fromLacking as Partial<Record<string, Row>>)[action.kind];
  const [hit, miss] = [row(kind.hit), row(kind.miss)];
  // What worked because a part was away fails again when it is put back.
  const undone = history.value.actions.find((a) => a.id === action.undoes);
  const cause = undone && takesAway.includes(undone.kind) ? reachOf(history, undone).direct : null;
  const [well, failsAgain] = [row(rules.whileWell), row(rules.putBack)];
  const gone = row(rules.fedIsGone);
  const keep = (state: FaultState): number[] => row({ [state]: 1 });
  return (h) => {
    const [d, f] = [direct[h] * doubt, fed[h]];
    const fromSame = faultStates.map((_, s) => d * hit[s] + (1 - d) * (f * gone[s] + (1 - f) * miss[s]));
    // A part that went with the fault comes back with it, or is replaced by a good one.
    const back = fromLacking && (direct[h] > 0 || action.undoes !== null) ? row(fromLacking) : keep('lacking');
    const reach = action.undoes !== null ? 1 : Math.max(direct[h], 0);
    const lacking = faultStates.map((_, s) => reach * back[s] + (1 - reach) * keep('lacking')[s]);
    const other = faultStates.map(
      (_, s) => (1 - rules.otherGoes) * keep('other')[s] + rules.otherGoes * keep('works')[s],
    );
    const table = faultStates.map((): number[] => []);
    table[stateIndex.same] = fromSame;
    table[stateIndex.altered] = faultStates.map(
      (_, s) =>
        d * hit[s] +
        (1 - d) *
          (f * gone[s] +
            (1 - f) *
              (s === stateIndex.altered
                ? miss[stateIndex.same]
                : s === stateIndex.same
                  ? miss[stateIndex.altered]
                  : miss[s])),
    );
    table[stateIndex.lacking] = lacking;
    const again = cause?.[h] ?? 0;
    table[stateIndex.works] = well.map((x, s) => again * failsAgain[s] + (1 - again) * x);
    table[stateIndex.other] = other;
    return table;
  };
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
