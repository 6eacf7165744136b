import { namedChecks, type CircuitId } from '../catalogue/index.ts';
import type { Action, Case, Check, Run, SwappedUnit } from '../case/index.ts';
import { isSamePart, likelySamePlace, suggestedCircuits } from '../hypotheses/index.ts';
import type { Difference } from '../reasons/index.ts';
import rules from './assembly.json';
import changes from './changes.json';

/** How the slot of a thing is filled: with the device's own, with a good one, or with nothing. */
export type Filled = 'own' | 'good' | 'none';

/**
 * A thing that was swapped, unplugged, set apart or left out at some time: a unit, a plug-in part, a port that was not used, half
 * of the boards, what is outside of the device.
 */
export interface Thing {
  id: string;
  /** Probability that a fault of a circuit sits in it, where nothing else of the device was moved. */
  share: (circuit: CircuitId) => number;
}

/** What is used with the device: its charger and its cable. */
export const outside = 'outside';

/** The side of a plug that is not used: turned over, its contacts are others. */
const side = 'side';

/** Whether the plug was turned over between two runs. */
export const isTurned = (before: Assembly, now: Assembly): boolean => before.has(side) !== now.has(side);

/** The things that are not as they belong; all others are the device's own. */
export type Assembly = ReadonlyMap<string, Filled>;

type Row = Partial<Record<string, number>>;
const shareIn =
  (row: Row) =>
  (circuit: CircuitId): number =>
    circuit === 'unmodelled' ? 0 : (row[circuit] ?? row.default ?? 0);

/** Words for a whole board that came in place of another. */
const wholeBoard = /\b(?:whole|entire|complete|main|mother|logic|donor|another|new)\s+(?:main |mother|logic )?board\b/i;
/** Words for boards that come apart and together. */
const splitWords =
  /\b(storeys?|halves|half|stack(ed)?|sandwich|upper board|lower board|boards? (apart|parted|split))\b/i;
const outsideUnit = /\b(?:brick|adapter|power supply|charging cable|cable)\b/i;

/** The whole unit that was swapped, as it was said or as its words have it; null for a part. */
export function swappedUnit({ kind, unit, circuit, target }: Action): SwappedUnit | null {
  if (unit !== null || circuit !== null) return unit;
  // Boards that were laid together or joined are those that the words name.
  if ((kind === 'trial' || kind === 'join') && splitWords.test(target)) return 'halves';
  if (kind !== 'replace' && kind !== 'trial') return null;
  if (wholeBoard.test(target) && !/\b(side|sub|daughter|button|charging|socket|stick|bridge)\b/i.test(target))
    return 'board';
  return outsideUnit.test(target) && suggestedCircuits(target).size === 0 ? 'charger' : null;
}

/** Boards that were taken apart: that is no repair, and what each half does alone says where the fault is. */
export function isSplit({ kind, circuit, target }: Pick<Action, 'kind' | 'circuit' | 'target'>): boolean {
  if (kind === 'split') return true;
  if (!['disconnect', 'isolate', 'remove'].includes(kind)) return false;
  return circuit === 'joint.stack' || (circuit === null && splitWords.test(target));
}

const ofUnit: Partial<Record<SwappedUnit, string>> = {
  board: 'board',
  pack: 'pack',
  display: 'display',
  charger: outside,
  cable: outside,
  'port-board': 'port-board',
  button: 'button',
  halves: 'joint',
};
/** Probability that a fault of a circuit sits in a unit that was swapped. */
export const shareOfUnit = (unit: SwappedUnit): Thing['share'] => shareIn(rules[(ofUnit[unit] ?? unit) as 'pack']);

const ofCircuit: Partial<Record<CircuitId, string>> = {
  'battery.pack': 'pack',
  display: 'display',
  button: 'button',
  'joint.stack': 'joint',
};
const partWords = changes.parts.words as Record<string, string[]>;

/** The kind of part that words name: a capacitor, a chip, a pair of transistors; null where they name none. */
export function partKind(target: string): string | null {
  const words = target.toLowerCase().split(/[^\p{L}]+/u);
  return (
    Object.keys(partWords).find((kind) => words.some((w) => partWords[kind].includes(w.replace(/s$/, '')))) ?? null
  );
}

/** Whether a whole plug-in part was swapped, and not something on a board. */
const isPluggedPart = ({ kind, circuit, target }: Action): boolean =>
  (kind === 'replace' || kind === 'trial') &&
  circuit !== null &&
  target !== '' &&
  rules.plugIn.includes(circuit) &&
  partKind(target) === null &&
  !/\b(?:connector|contacts?|socket|line|joint)\b/i.test(target);

/** Changes that move a thing without a unit's name: what has a plug is a thing. */
const plugged: readonly Action['kind'][] = ['disconnect', 'reconnect', 'plug'];

/** Names of plug-in parts, as they were first called. */
class Names {
  private readonly known: string[] = [];
  of(name: string): string {
    const same = this.known.find((x) => x.toLowerCase() === name.toLowerCase() || isSamePart(x, name));
    if (same !== undefined) return same;
    this.known.push(name);
    return name;
  }
}

/** The id of a plug-in part by its name: packs and displays are what they are called, others themselves. */
function idOfName(name: string, circuit: CircuitId | null, names: Names): string {
  const [named] =
    circuit === null ? [...suggestedCircuits(name)].filter(([, f]) => f > 2).map(([id]) => id) : [circuit];
  return ofCircuit[named] ?? `part:${names.of(name)}`;
}

/** The thing that a change moves; null for work on a part of a board. */
function thingOfAction(action: Action, before: Assembly, names: Names): string | null {
  if (action.byItself) return null;
  const unit = swappedUnit(action);
  if (isSplit(action) || (action.circuit === 'joint.stack' && before.get('joint') === 'none')) return 'joint';
  if (unit !== null) return ofUnit[unit] ?? idOfName(action.target || unit, action.circuit, names);
  if (action.kind === 'join') return 'joint';
  if (!plugged.includes(action.kind) && !isPluggedPart(action)) return null;
  return idOfName(action.target || (action.circuit ?? 'a part'), action.circuit, names);
}

const unnamedPart = 'a part';

/** What a check says was unplugged: its list, or the place that it found by unplugging. */
export function triedIn({ id, unplugged, where }: Check): readonly string[] {
  return id === namedChecks.peripherals && unplugged.length === 0 && where !== '' ? [where] : unplugged;
}

/** A supply on the contacts of the pack stands in place of the pack and of the charger. */
const isByFeed = (id: string, { feed }: Run): boolean => feed === 'battery' && (id === outside || id === 'pack');

/** Whether it is the half with the processor that a run was made of. */
export const isMainHalf = ({ setup }: Run): boolean => /upper|main|top|processor|logic/i.test(setup.half ?? 'upper');

/** Everything that was ever moved in a case, and how each of its states and observations was put together. */
export interface Assemblies {
  things: readonly Thing[];
  /** How the device stands after so many changes. */
  after: (epoch: number) => Assembly;
  ofRun: (run: Run) => Assembly;
  ofCheck: (check: Check) => Assembly;
  /** The same with one more change, which comes last; a thing that it moves first stands after all others. */
  planned: (action: Action) => { assemblies: Assemblies; assembly: Assembly };
  /** The thing that a change moves; null for work on a part, and for what was never moved in this case. */
  moved: (action: Action) => Thing | null;
}

/** What is left with the device's own in its slot. */
const isOut = (filled: Filled | undefined): filled is 'good' | 'none' => filled === 'good' || filled === 'none';

/** Whether a thing is the device's own in an assembly. */
export const isOwn = (assembly: Assembly, thing: Thing | null): boolean =>
  thing === null || !isOut(assembly.get(thing.id))
    ? !(thing && isOnBoard(thing) && isOut(assembly.get('board')))
    : false;

const isOnBoard = ({ id }: Thing): boolean => id.startsWith('half:') || id === 'joint';

/**
 * Gathers what was moved in a case.
 *
 * @param epochOf the state of the device that something belongs to
 * @param isWanted false where a model's own twin is started with what is in and what is out
 */
export function assembliesOf(value: Case, epochOf: (after: string | null) => number, isWanted = true): Assemblies {
  const names = new Names();
  const isHalved = value.runs.some((r) => r.setup.assembly === 'half') || value.checks.some((c) => c.half !== null);
  const folded: Map<string, Filled>[] = [new Map()];
  const ids: (string | null)[] = [];
  value.actions.forEach((action, k) => {
    const next = new Map(folded[k]);
    // A board that was taken off and looked at by itself is one of two halves.
    const isSide = isHalved && isSideBoard(action);
    const undone = value.actions.slice(0, k).findIndex((a) => a.id === action.undoes);
    const id = isSide ? 'half:other' : (ids[undone] ?? thingOfAction(action, next, names));
    if (id !== null) move(next, id, action, value.actions);
    folded.push(next);
    ids.push(id);
  });
  const ports = new Set(value.runs.filter((r) => r.feed === 'usb-c').map((r) => r.setup.port ?? 1));
  const after = (epoch: number): Assembly => folded[Math.min(epoch, folded.length - 1)];
  const set = (to: Map<string, Filled>, id: string, said: string | null | undefined): void => {
    if (said === 'known-good') to.set(id, 'good');
    else if (said === 'disconnected' || said === 'absent') to.set(id, 'none');
    else if (said === 'own') to.delete(id);
    else if (said === 'connected' && to.get(id) === 'none') to.delete(id);
  };
  const withSetup = (epoch: number, setup: Partial<Run['setup']>): Map<string, Filled> => {
    const out = new Map(after(epoch));
    set(out, 'pack', setup.battery);
    set(out, 'display', setup.display);
    set(out, outside, setup.charger);
    set(out, 'board', setup.board);
    for (const name of setup.unplugged ?? []) out.set(idOfName(name, null, names), 'none');
    return out;
  };
  const put = new Map<Run, Assembly>();
  const ofRun = (run: Run): Assembly => {
    const known = put.get(run);
    if (known) return known;
    const out = withSetup(epochOf(run.after), run.setup);
    for (const id of [outside, 'pack']) if (isByFeed(id, run)) out.set(id, 'none');
    if (ports.size > 1 && run.feed === 'usb-c')
      for (const port of ports) if (port !== (run.setup.port ?? 1)) out.set(`port:${port}`, 'none');
    if (run.feed === 'usb-c' && run.setup.flipped) out.set(side, 'none');
    if (run.setup.assembly === 'half') {
      const [here, away] = isMainHalf(run) ? ['half:main', 'half:other'] : ['half:other', 'half:main'];
      out.set('joint', 'none').set(away, 'none').delete(here);
    }
    for (const { event, note } of run.markers) {
      if (event !== 'part-off' && event !== 'part-on') continue;
      const id = idOfName(note?.trim() || tried(run.after) || unnamedPart, null, names);
      if (event === 'part-off') out.set(id, 'none');
      else out.delete(id);
    }
    put.set(run, out);
    return out;
  };
  const ofCheck = (check: Check): Assembly =>
    withSetup(epochOf(check.after), { ...check.setup, unplugged: [...triedIn(check)] });
  /** What somebody said was unplugged in a state or next, for runs in which something was. */
  const tried = (after: string | null): string | undefined =>
    value.checks
      .filter((c) => c.after === after)
      .flatMap(triedIn)
      .at(-1) ?? value.actions.slice(epochOf(after)).find((a) => a.kind === 'disconnect')?.target;
  const moved = new Set([
    ...ids.filter((id) => id !== null),
    ...value.runs.flatMap((r) =>
      [...ofRun(r)].filter(([id, f]) => isOut(f) && !(f === 'none' && isByFeed(id, r))).map(([id]) => id),
    ),
    ...value.checks.flatMap((c) => [...ofCheck(c)].filter(([, f]) => isOut(f)).map(([id]) => id)),
    ...(isHalved ? ['joint'] : []),
  ]);
  const things = isWanted
    ? thingsOf(
        value,
        [...moved].filter((id) => id !== side),
        Math.max(ports.size, 1),
      )
    : [];
  const assemblies: Assemblies = {
    things,
    after,
    ofRun,
    ofCheck,
    planned: (action) => {
      const assembly = new Map(after(value.actions.length));
      const id = isWanted ? thingOfAction(action, assembly, names) : null;
      if (id === null) return { assemblies, assembly };
      move(assembly, id, action, value.actions);
      if (things.some((t) => t.id === id)) return { assemblies, assembly };
      const wider = thingsOf(value, [...moved].filter((x) => x !== side).concat(id), ports.size || 1);
      const added = wider.filter((t) => !things.some((x) => x.id === t.id));
      const all = [...things, ...added];
      return {
        assemblies: { ...assemblies, things: all, moved: () => all.find((t) => t.id === id) ?? null },
        assembly,
      };
    },
    moved: (action) => {
      const k = value.actions.findIndex((a) => a.id === action.id);
      const id = k < 0 ? thingOfAction(action, after(value.actions.length), names) : ids[k];
      return things.find((t) => t.id === id) ?? null;
    },
  };
  return assemblies;
}

const isSideBoard = ({ kind, circuit }: Action): boolean =>
  kind === 'disconnect' && circuit !== null && circuit !== 'joint.stack';

/** What a change does to the slot of a thing. */
function move(to: Map<string, Filled>, id: string, action: Action, actions: readonly Action[]): void {
  const undone = actions.find((a) => a.id === action.undoes);
  const { kind } = action;
  if (action.with === 'own' || undone) {
    // What is soldered or put together again is new in its joints.
    if (id === 'joint') to.set(id, 'good');
    else to.delete(id);
  } else if (kind === 'replace' || kind === 'trial' || kind === 'join' || action.with === 'good') to.set(id, 'good');
  else if (kind === 'disconnect' || kind === 'remove' || kind === 'split' || kind === 'isolate') to.set(id, 'none');
  else if (to.get(id) === 'none') {
    if (id === 'joint') to.set(id, 'good');
    else to.delete(id);
  }
}

/** The things by their ids, each with its share of what is left by those before it. */
function thingsOf(value: Case, ids: readonly string[], ports: number): Thing[] {
  const single = ids.filter((id) => id !== 'joint' && id !== 'board' && !id.startsWith('half:'));
  const first = single.map((id): Thing => ({ id, share: shareOf(value, id, ports) }));
  const taken = (circuit: CircuitId): number => first.reduce((sum, t) => sum + t.share(circuit), 0);
  const fitted = first.map(({ id, share }): Thing => ({
    id,
    share: (circuit) => share(circuit) * Math.min(1, rules.most / Math.max(taken(circuit), 1e-9)),
  }));
  const rest = (circuit: CircuitId): number => Math.max(0, 1 - Math.min(taken(circuit), rules.most));
  const halves = ids.includes('joint')
    ? (['main', 'other', 'joint'] as const).map((at): Thing => ({
        id: at === 'joint' ? 'joint' : `half:${at}`,
        share: (circuit) => rest(circuit) * sits(circuit, value.actions.some(isSideBoard))[at],
      }))
    : [];
  const board = ids.includes('board')
    ? [
        {
          id: 'board',
          share: (circuit: CircuitId) => shareIn(rules.board)(circuit) * (halves.length > 0 ? 0 : rest(circuit)),
        },
      ]
    : [];
  return [...fitted, ...halves, ...board];
}

function shareOf(value: Case, id: string, ports: number): Thing['share'] {
  if (id.startsWith('port:')) return (circuit) => shareIn(rules.port)(circuit) / ports;
  if (!id.startsWith('part:')) return shareIn(rules[id as 'pack']);
  return inPart(value, id.slice('part:'.length));
}

const { named } = rules;

/**
 * Probability that a fault of a circuit sits in a plug-in part: in the one that its words name, more where damage was seen at it,
 * and otherwise in one of the few that such a device has.
 */
function inPart(value: Case, part: string): Thing['share'] {
  const said = suggestedCircuits(part);
  const itself = [...said].filter(([, factor]) => factor === Math.max(...said.values())).map(([id]) => id);
  const isSwapped = value.actions.some((a) => isPluggedPart(a) && isSamePart(a.target, part));
  const isGiven = value.actions
    .filter((a) => a.circuit !== null && likelySamePlace(a.target, part))
    .map((a) => a.circuit);
  return (circuit) => {
    const is = itself.includes(circuit) || isGiven.includes(circuit);
    const hurt = value.checks.some(
      (c) =>
        c.id === namedChecks.look &&
        named.hurt.includes(c.outcome ?? '') &&
        (likelySamePlace(c.where, part) || (c.circuit === circuit && is)),
    );
    if (hurt && (circuit === 'periph.board' || is)) return named.ifHurt;
    // Of several that such a device has, it is one; whoever swaps one has a reason.
    if (is) return circuit === 'periph.board' && !isSwapped ? named.oneOf : named.itself;
    const usual = (rules.unnamed as Row)[circuit] ?? 0;
    return itself.length > 0 || isGiven.length > 0 ? usual * named.notNamed : usual;
  };
}

/** Probability that a fault of a circuit sits on the half with the processor, on the other, or in what joins them. */
export function sits(circuit: CircuitId, isSideBoard: boolean): { main: number; other: number; joint: number } {
  if (circuit === 'none' || circuit === 'unmodelled') return { main: 0, other: 0, joint: 0 };
  if (circuit === 'joint.stack') return { main: 0, other: 0, joint: 1 };
  const rows: Row = isSideBoard ? rules.onMain.sideBoard : rules.onMain.stack;
  const main = rows[circuit] ?? rows.default ?? 0.5;
  return { main, other: 1 - main, joint: 0 };
}

/** Whether two assemblies are put together from the same things. */
export function sameAssembly(a: Assembly, b: Assembly): boolean {
  const ids = new Set([...a.keys(), ...b.keys()]);
  return [...ids].every((id) => (a.get(id) ?? 'own') === (b.get(id) ?? 'own'));
}

/** What is out of an assembly, or another in it, that was as it belongs in one before. */
export function differences(before: Assembly, now: Assembly): Difference[] {
  return [...now].flatMap(([slot, is]): Difference[] =>
    isOut(is) && (before.get(slot) ?? 'own') !== is && slot !== 'joint' ? [{ slot, is }] : [],
  );
}
