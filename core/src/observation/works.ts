import { checkTypes, isCheck, namedChecks, patternTypes } from '../catalogue/index.ts';
import { inSentence } from '../quantity/index.ts';
import type { Check, Proof, SwappedUnit } from '../case/index.ts';
import { topPattern } from '../shape/index.ts';
import type { History } from './kind.ts';
import { isAtRest, isHealthy, isOfHalf, type SeenRun } from './observed-run.ts';
import rules from './works.json';

type Looked = Pick<Check, 'id' | 'outcome' | 'half' | 'unplugged'>;

const shownBy = ({ id, outcome }: Pick<Check, 'id' | 'outcome'>) =>
  isCheck(id) && outcome !== null ? checkTypes[id].shows : undefined;

/**
 * Whether a check shows what a device that does not work cannot show: a picture, a charge, a computer that sees it.
 *
 * @param check with its outcome
 */
export function showsItWorks(check: Looked): boolean {
  const { outcome, half, unplugged } = check;
  return (
    half === null && unplugged.length === 0 && outcome !== null && Object.hasOwn(shownBy(check)?.works ?? {}, outcome)
  );
}

/** Whether a check shows that the device does not work. A logo shows neither: it is on the way to a picture. */
export function showsItFails(check: Looked): boolean {
  return check.half === null && check.outcome !== null && (shownBy(check)?.fails.includes(check.outcome) ?? false);
}

/** The same of one half alone: it lives, and that is no cure of the whole. */
export function showsHalfAlive(check: Check): boolean {
  return check.half !== null && showsItWorks({ ...check, half: null });
}

/** Whether a run shows a device that lives: a rest before any press shows none. */
export function runShowsLife(seen: Pick<SeenRun, 'run' | 'patterns' | 'waits'>): boolean {
  return isHealthy(seen) && !isAtRest(seen) && seen.run.setup.assembly !== 'half';
}

type Standing = Pick<History, 'value' | 'seen' | 'epochOf'>;

/** Something that was seen of a device that was switched on. */
export interface Sign {
  /** State of the device: 0 before any change, then the number of the change. */
  epoch: number;
  works: boolean;
  /** What was seen, as the end of a sentence: "it shows a picture". */
  says: string;
  /** It is what was complained of: a charge where it did not charge. */
  isOfComplaint: boolean;
  /** It tells whether it charges. */
  isCharge: boolean;
  /** The good thing that was in place of the device's own; null where there was none. */
  other: SwappedUnit | null;
  /** Somebody said that a proof holds. */
  isProof: boolean;
  /** Id of the run that shows it; null for what was looked at. */
  run: string | null;
}

/** Where nobody said when: what was looked at says more than a level, a level more than a press, and a proof more than a look. */
const ranks = { press: 0, run: 1, check: 2, proof: 3 };

/**
 * Everything that shows whether the device works or fails, in the order in which it was seen. Rests, logos and what one half does
 * show neither; nor does what is looked over without power.
 */
export function signsOf({ value, seen, epochOf }: Standing): Sign[] {
  const asksCharge = value.complaintKind !== null && rules.asksCharge.includes(value.complaintKind);
  const found: (Sign & { at: string | undefined; rank: number })[] = [];
  for (const one of seen) {
    const works = runShowsLife(one);
    if (isOfHalf(one) || (!works && isHealthy(one))) continue;
    const pattern = patternTypes[topPattern(one.patterns)];
    const charges = rules.showsCharge.includes(topPattern(one.patterns));
    found.push({
      epoch: epochOf(one.run.after),
      works,
      says: charges ? 'it charges' : works ? 'it starts normally' : `“${pattern.name}”`,
      isOfComplaint: !works || !asksCharge || charges,
      isCharge: charges || (!works && one.run.feed !== 'battery'),
      other: otherIn(one.run.setup),
      isProof: false,
      run: one.run.id,
      at: one.run.at,
      rank: ranks.run,
    });
  }
  for (const check of value.checks) {
    const works = showsItWorks(check);
    if (!works && !showsItFails(check)) continue;
    const says = shownBy(check)?.works[check.outcome ?? ''] ?? sayFailed(check);
    found.push({
      epoch: epochOf(check.after),
      works,
      says,
      isOfComplaint: !works || isOfComplaint({ value }, check),
      isCharge: check.id === namedChecks.charges,
      other: otherIn(check.setup ?? {}) ?? otherBy(check),
      isProof: false,
      run: null,
      at: check.at,
      rank: check.id === namedChecks.press ? ranks.press : ranks.check,
    });
  }
  for (const proof of value.proofs) {
    const isWithout = [proof.protocol, `${proof.protocol}/${proof.step}`].some((id) => rules.withoutPower.includes(id));
    if (proof.result === 'not-done' || isWithout) continue;
    found.push({
      epoch: epochOf(proof.after),
      works: proof.result === 'pass',
      says: proof.result === 'pass' ? 'it passes what was tried after the repair' : sayProofFailed(proof),
      isOfComplaint: true,
      isCharge: true,
      other: null,
      isProof: true,
      run: proof.run,
      at: proof.at,
      rank: ranks.proof,
    });
  }
  return found.sort(
    (a, b) =>
      a.epoch - b.epoch ||
      (a.at !== undefined && b.at !== undefined ? Date.parse(a.at) - Date.parse(b.at) : 0) ||
      a.rank - b.rank,
  );
}

const sayFailed = ({ id, outcome }: Pick<Check, 'id' | 'outcome'>): string =>
  `${isCheck(id) ? inSentence(checkTypes[id].name) : id}: ${(outcome ?? '').replaceAll('-', ' ')}`;
const sayProofFailed = ({ reason }: Proof): string => reason || 'a check after the repair failed';

/** The good thing that a check puts in place of the device's own. */
function otherBy({ id }: Pick<Check, 'id'>): SwappedUnit | null {
  const part = isCheck(id) ? checkTypes[id].compares?.part : undefined;
  return part === 'display' || part === 'charger' ? part : null;
}

/** The good thing that stands in a setup in place of the device's own. */
function otherIn(setup: NonNullable<Check['setup']>): SwappedUnit | null {
  if (setup.board === 'known-good') return 'board';
  if (setup.battery === 'known-good') return 'pack';
  if (setup.display === 'known-good') return 'display';
  return setup.charger === 'known-good' ? 'charger' : null;
}

/** What was seen of the device as it is now, as far as it says whether it works. */
interface SeenNow {
  /** The last sign that counts: with the device's own things where there is one, else with a good thing in its place. */
  last: Sign | null;
  /** It works, in what is complained of as far as that was tried. */
  works: boolean;
}

/** What was seen since the last change. What it does with its own things says more than what it does with a good one. */
export function seenNow(history: Standing): SeenNow {
  const now = history.value.actions.length;
  const signs = signsOf(history).filter((s) => s.epoch === now);
  const own = signs.filter((s) => s.other === null);
  const well = signs.findLast((s) => s.works && s.other !== null) ?? null;
  const last = newestOf(own);
  // A good charger that works says what was wrong with the device's own, whichever was tried last.
  if (well && last && !last.works) return { last: well, works: true };
  const newest = last ?? newestOf(signs);
  return { last: newest, works: newest?.works ?? false };
}

/** The newest sign; where it is a charge that is complained of, a start does not outdo a charge that failed. */
function newestOf(signs: readonly Sign[]): Sign | null {
  const newest = signs.at(-1) ?? null;
  if (newest === null || newest.isOfComplaint) return newest;
  const charge = signs.findLast((s) => s.isCharge);
  return charge && !charge.works ? charge : newest;
}

/** Whether a check shows, after a change, what the device was last seen to fail at before it. */
export function recoversWith(history: Standing, check: Check): boolean {
  const epoch = history.epochOf(check.after);
  if (epoch === 0 || !showsItWorks(check) || otherIn(check.setup ?? {}) !== null || otherBy(check) !== null)
    return false;
  const before = signsOf(history).filter((s) => s.epoch < epoch && s.other === null);
  const last = before.at(-1);
  const wasShown = history.value.checks.some(
    (c) => c.id === check.id && c.outcome === check.outcome && history.epochOf(c.after) < epoch,
  );
  return last !== undefined && !last.works && !wasShown && isOfComplaint(history, check);
}

/** Where it is a charge that is complained of, a picture is none. */
function isOfComplaint({ value: { complaintKind } }: Pick<Standing, 'value'>, check: Pick<Check, 'id'>): boolean {
  return complaintKind === null || !rules.asksCharge.includes(complaintKind) || check.id === namedChecks.charges;
}

/** Whether the device was seen to work in its present state, in what is complained of. */
export function wasSeenWorking(history: Standing): boolean {
  const now = history.value.actions.length;
  return seenNow(history).works && signsOf(history).some((s) => s.epoch === now && s.works && s.isOfComplaint);
}
