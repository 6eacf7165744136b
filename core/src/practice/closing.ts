import { gradeTypes, type OutcomeGrade } from '../catalogue/index.ts';
import type { OutcomeProposal } from '../diagnosis/index.ts';
import { sayFault, type Fault, type Profile } from '../twin/index.ts';

/** A unit as it is when somebody closes it. */
interface ClosedUnit {
  device: Profile;
  /** What it came with, and what is still in it. */
  faults: readonly Fault[];
  left: readonly Fault[];
  /** The outcome that the evidence supports; null where it supports none. */
  supported: OutcomeProposal['grade'];
}

/** How a unit was closed, held against what is in it. */
export interface JudgedClosing {
  isRight: boolean;
  /** What is wrong with the outcome that was named, or why it is right. */
  says: string;
}

/**
 * Holds the outcome that somebody names against what is still in the unit, and against what was measured. Nothing was repaired
 * in a unit that came without a fault, and a fault does not go away by itself.
 */
export function judgeClosing(grade: OutcomeGrade, { device, faults, left, supported }: ClosedUnit): JudgedClosing {
  const isRepaired = gradeTypes[grade].isConfirmed;
  const [still] = left;
  if (faults.length === 0) {
    if (isRepaired) return wrong('Nothing was wrong with it, so nothing was repaired.');
    return grade === 'not-found'
      ? right('It has no fault in its power and boot circuits.')
      : wrong('It has no fault in its power and boot circuits, so “not found” is the outcome.');
  }
  if (still) {
    if (isRepaired || grade === 'disappeared')
      return wrong(`The fault is still in it: ${sayFault(device, still)}. Record a run before you return a device.`);
    return right('The fault is still in it, and the customer is told so.');
  }
  if (!isRepaired) return wrong('The fault is gone because of what you changed, so it is repaired.');
  if (grade === 'measured' && supported === 'cleared')
    return wrong('It is repaired, but no measurement shows the cause. The outcome is “fixed, cause not measured”.');
  if (grade === 'cleared' && supported === 'measured')
    return right('It is repaired. You also measured the cause, so you can say so.');
  return right('It is repaired.');
}

const right = (says: string): JudgedClosing => ({ isRight: true, says });
const wrong = (says: string): JudgedClosing => ({ isRight: false, says });
