import {
  actionTypes,
  checkTypes,
  deviceStateTypes,
  isCheck,
  namedChecks,
  patternNames,
  unrecognised,
  withArticle,
  type DeviceStateId,
} from '../catalogue/index.ts';
import { partName, unitNames, type Action, type SwappedUnit } from '../case/index.ts';
import {
  groundFindings,
  isHealthy,
  isOfHalf,
  isSamePoint,
  partsAway,
  readsTheSame,
  seenNow,
  type Sign,
  signsOf,
  wasSeenWorking,
  type Found,
  type History,
  type SeenRun,
} from '../observation/index.ts';
import { topPattern } from '../shape/index.ts';
import rules from './limits.json';

/** How the device is now: one statement, which every screen, report and list shows. */
export interface DeviceState {
  id: DeviceStateId;
  /** Whole sentences. */
  sentence: string;
  /** The place that was measured before and after; null where none was. */
  at: string | null;
  /** What was measured there before the change and since, in `unit`; null for a word or an open line. */
  before: number | null;
  now: number | null;
  unit: 'ohm' | 'V' | null;
}

/** How likely the device works, fails as it did, or fails otherwise. */
type Now = Readonly<Record<'works' | 'same-fault' | 'other-fault', number>>;

const plain = { at: null, before: null, now: null, unit: null };

/**
 * How the device is after everything that was done to it, from what was seen: it works where it was seen to work, and while
 * nothing was switched on since the last change it is mended, or apart, and no more. Only whether a fault that shows now is the
 * old one or another is a matter of belief.
 *
 * @param now what is believed of the device as it is
 */
export function deviceState(history: History, now: Now): DeviceState {
  const { actions } = history.value;
  const changes = actions.filter((a) => !a.byItself);
  const { last, works } = seenNow(history);
  if (last !== null && works) return working(history, last.other, saysWorking(history, last));
  if (last !== null && changes.length > 0) return failing(history, now);
  const left = changesLeft(actions);
  const done = left.at(-1);
  if (done === undefined) return { ...plain, id: 'not-changed', sentence: untouched(changes) };
  // What was put in and taken out again since says no more than that it did not help.
  const since = signsOf(history).filter((s) => s.epoch > actions.indexOf(done));
  if (since.length > 0 && !since[since.length - 1].works) return failing(history, now);
  return shortAfter(history, left) ?? untried(history, done);
}

/** Whether something was changed and nothing was switched on since. */
export const isUntried = ({ id }: Pick<DeviceState, 'id'>): boolean => deviceStateTypes[id].isUntried === true;

/** Whether it was seen to work. */
export const isWorking = ({ id }: Pick<DeviceState, 'id'>): boolean => deviceStateTypes[id].isWorking === true;

/**
 * Changes that the device still bears: without those that were taken back, and without those that took them back and did
 * nothing else.
 */
export function changesLeft(actions: readonly Action[]): Action[] {
  const undone = new Set(actions.flatMap((a) => (a.undoes === null ? [] : [a.undoes])));
  return actions.filter(
    (a) =>
      !a.byItself &&
      !undone.has(a.id) &&
      (a.undoes === null || (actionTypes[a.kind].isRepair === true && a.with !== 'own')),
  );
}

const untouched = (changes: readonly Action[]): string =>
  changes.length === 0 ? 'Nothing has been changed yet.' : 'Everything is back as it was. Nothing has been changed.';

/** How it was seen to work: by what it did, rather than by a proof that was said to hold. */
function saysWorking(history: History, last: Sign): string {
  const now = signsOf(history).filter((s) => s.epoch === last.epoch && s.other === last.other && s.works);
  return (now.findLast((s) => !s.isProof) ?? last).says;
}

/** The unit in whose place a good one was put last, and which was not put back or replaced since; null where there is none. */
function goodUnitIn(left: readonly Action[]): SwappedUnit | null {
  const newest = left.filter((a, k) => a.unit !== null && !left.slice(k + 1).some((later) => later.unit === a.unit));
  return newest.findLast((a) => a.with === 'good')?.unit ?? null;
}

/** Nothing that stays was done since the last trial: what was laid together to see comes apart again. */
const isTrialOnly = (actions: readonly Action[]): boolean => {
  const last = changesLeft(actions).at(-1);
  return last !== undefined && actionTypes[last.kind].isTrial === true && last.with !== 'own';
};

function working(history: History, otherSeen: SwappedUnit | null, says: string): DeviceState {
  const { actions } = history.value;
  const other = otherSeen ?? goodUnitIn(changesLeft(actions));
  if (other !== null) {
    const name = unitNames[other];
    return {
      ...plain,
      id: 'works-with-other',
      sentence: `With a known-good ${name} ${says}. The device’s own ${name} has not been tried again.`,
    };
  }
  if (actions.at(-1)?.byItself)
    return {
      ...plain,
      id: 'works-alone',
      sentence: `It works again, although nothing was changed: ${says}. The fault may come back.`,
    };
  if (changesLeft(actions).length === 0 && actions.length === 0)
    return { ...plain, id: 'not-changed', sentence: `Nothing has been changed yet, and ${says}.` };
  if (isTrialOnly(actions))
    return {
      ...plain,
      id: 'works-seen',
      sentence: `It works in this trial setup: ${says}. The repair still has to be done.`,
    };
  const unplugged = partsAway(history).filter((p) => p.is === 'unplugged');
  const without =
    unplugged.length > 0 ? ` without ${unplugged.map((p) => withArticle(partName(p.action))).join(' and ')}` : '';
  const untestedCharge = wasSeenWorking(history) ? '' : ' Whether it charges has not been tried yet.';
  return { ...plain, id: 'works-seen', sentence: `It works${without}: ${says}.${untestedCharge}` };
}

function failing(history: History, now: Now): DeviceState {
  const shown = shownNow(history);
  const says = shown ? ` It shows “${patternNames[topPattern(shown.patterns)]}”.` : '';
  return isSameFault(history, now)
    ? { ...plain, id: 'same-fault', sentence: `The same fault is still there.${says}` }
    : { ...plain, id: 'other-fault', sentence: `It fails differently now.${says}` };
}

/** The newest run of the present state that shows a fault. */
function shownNow({ seen, epochOf, value }: History): SeenRun | null {
  const isNow = (s: SeenRun): boolean => epochOf(s.run.after) === value.actions.length && !isOfHalf(s) && !isHealthy(s);
  return seen.findLast((s) => isNow(s) && topPattern(s.patterns) !== unrecognised) ?? null;
}

function isSameFault(history: History, now: Now): boolean {
  const { seen, epochOf, value } = history;
  const shown = shownNow(history);
  const before = seen.filter((s) => epochOf(s.run.after) < value.actions.length && !isOfHalf(s));
  if (shown && before.some((b) => b.run.feed === shown.run.feed && readsTheSame(b, shown))) return true;
  if (!shown) {
    const signs = signsOf(history);
    const last = signs.at(-1);
    if (signs.some((s) => s !== last && !s.works && s.says === last?.says)) return true;
  }
  return now['same-fault'] >= now['other-fault'];
}

/** What was seen since the last change that is on the way to a device that works, and no more: a logo, a lit indicator. */
function onTheWay({ value, epochOf }: History): string | null {
  const now = value.actions.length;
  const seen = value.checks.findLast(
    ({ id, outcome, half, after }) =>
      epochOf(after) === now &&
      half === null &&
      isCheck(id) &&
      (checkTypes[id].shows?.onTheWay?.includes(outcome ?? '') ?? false),
  );
  return seen?.outcome?.replaceAll('-', ' ') ?? null;
}

/** Boards that are apart are tried one at a time, which says nothing of the whole. */
function halvesTried({ value, seen, epochOf }: History): string {
  const now = value.actions.length;
  const isTried =
    seen.some((s) => isOfHalf(s) && epochOf(s.run.after) === now) ||
    value.checks.some((c) => epochOf(c.after) === now && (c.half !== null || c.id === namedChecks.halves));
  return isTried ? 'So far they have only been tried separately.' : 'Not tried yet.';
}

/** Something was changed and nothing was measured or switched on since. */
function untried(history: History, done: Action): DeviceState {
  const off = partsAway(history).find((p) => p.is === 'off' && !p.stays);
  const { takesAway, isTrial } = actionTypes[done.kind];
  if (off && done.kind !== 'remove')
    return {
      ...plain,
      id: 'part-off-untried',
      sentence: `Still off the board: ${partName(off.action)}. Not tried yet.`,
    };
  if (done.kind === 'split')
    return { ...plain, id: 'part-off-untried', sentence: `The boards are split. ${halvesTried(history)}` };
  if (takesAway === true && done.kind !== 'burn') {
    const word = done.kind === 'disconnect' ? 'Unplugged' : done.kind === 'isolate' ? 'Lifted' : 'Part off';
    return { ...plain, id: 'part-off-untried', sentence: `${word}: ${partName(done)}. Not tried yet.` };
  }
  const seen = onTheWay(history);
  if (isTrial) {
    const origin = done.with === 'good' ? 'known-good ' : '';
    const tried = seen === null ? 'Not tried yet.' : `So far: ${seen}.`;
    return { ...plain, id: 'mended-untried', sentence: `Trial: ${origin}${partName(done)}. ${tried}` };
  }
  const sentence =
    seen === null
      ? 'Repaired. Not tried yet. First start it on a limited supply.'
      : `Repaired. So far: ${seen}. It has not been seen to work yet.`;
  return { ...plain, id: 'mended-untried', sentence };
}

/**
 * What was measured at a place that was short before the last change: the short is gone, or it is still there. A reading that was
 * taken while a coil was lifted, which is back since, stays true where it found the short.
 */
function shortAfter(history: History, left: readonly Action[]): DeviceState | null {
  const { actions } = history.value;
  const since = actions.indexOf(left[left.length - 1]) + 1;
  const found = groundFindings(history);
  const apart = (epoch: number): boolean => !changesLeft(actions.slice(0, epoch)).every((a) => left.includes(a));
  const pairs = found.flatMap((now, k): { before: Found; now: Found }[] => {
    if (now.epoch < since || (!now.isShort && apart(now.epoch))) return [];
    if (found.slice(k + 1).some((later) => isSamePoint(now, later))) return [];
    const earlier = found.filter((b) => b.epoch < since && b.isShort && isSamePoint(b, now));
    const before = earlier.findLast((b) => b.unit === now.unit && b.value !== null) ?? earlier.at(-1);
    return before ? [{ before, now }] : [];
  });
  // Of several places the one that moved most says it best.
  const moved = ({ before: b, now: n }: (typeof pairs)[number]): number =>
    b.unit === n.unit && b.value !== null && n.value !== null ? n.value / Math.max(b.value, rules.minOhm) : 0;
  const pair = pairs.findLast((p) => p.now.isShort) ?? [...pairs].sort((a, b) => moved(b) - moved(a)).at(0);
  if (!pair) return null;
  const { before, now } = pair;
  const isComparable = before.unit === now.unit;
  const numbers = `${before.says} before, ${now.says} now`;
  return {
    id: now.isShort ? 'still-short' : 'short-gone',
    sentence: `${now.isShort ? 'Still short' : 'The short is gone'}: ${numbers} (${now.where}).`,
    at: now.where,
    before: isComparable ? before.value : null,
    now: now.value,
    unit: now.value === null && before.value === null ? null : now.unit,
  };
}
