import type { Candidate } from './candidate.ts';
import type { Unread } from './field.ts';
import settings from './sequence.json';

/** Why a picture gave no reading: nothing was seen, or what was seen is doubtful. */
export type Doubt = Unread | 'unsure' | 'other-format' | 'alone';

/** A picture, as it was decided on. Seconds. */
interface Decided {
  t: number;
  /** Null where it is doubtful; what is doubtful is absent, not guessed. */
  value: number | null;
  doubt: Doubt | null;
}

interface Waiting {
  t: number;
  seen: Candidate | Unread;
}

/**
 * Decides on the numbers of one field, picture after picture. A picture is decided on when the next one is there: a value that
 * jumps and comes back within one picture was misread, or was read while the display changed.
 */
export class FieldSequence {
  private waiting: Waiting | null = null;
  private before: number | null = null;
  private other: { decimals: number; times: number } | null = null;

  /** @param decimals digits behind the point, where somebody has said so; else the format that comes often enough */
  constructor(private decimals: number | null = null) {}

  /** The next picture; gives what is decided on the one before it. */
  next(t: number, seen: Candidate | Unread): Decided | null {
    const last = this.waiting;
    this.waiting = { t, seen };
    return last && this.decide(last, seen);
  }

  /** What is decided on the last picture, when no other comes. */
  end(): Decided | null {
    const last = this.waiting;
    this.waiting = null;
    return last && this.decide(last, null);
  }

  private decide({ t, seen }: Waiting, after: Candidate | Unread | null): Decided {
    const doubt = this.doubtOf(seen, after);
    if (doubt !== null || typeof seen === 'string') return { t, value: null, doubt };
    this.before = seen.value;
    return { t, value: seen.value, doubt: null };
  }

  private doubtOf(seen: Candidate | Unread, after: Candidate | Unread | null): Doubt | null {
    if (typeof seen === 'string') return seen;
    if (seen.p < settings.sureFrom) return 'unsure';
    if (!this.fits(seen)) return 'other-format';
    const next = after !== null && typeof after !== 'string' ? after.value : null;
    return this.isAlone(seen.value, next) ? 'alone' : null;
  }

  /** Whether a number has as many digits behind its point as those before it; another format has to come several times. */
  private fits({ decimals }: Candidate): boolean {
    if (this.decimals === decimals) {
      this.other = null;
      return true;
    }
    const times = this.other?.decimals === decimals ? this.other.times + 1 : 1;
    this.other = { decimals, times };
    if (times < settings.formatFrom) return false;
    this.decimals = decimals;
    this.other = null;
    return true;
  }

  /** Whether a value stands far from what was before it, which comes back right after it. */
  private isAlone(value: number, next: number | null): boolean {
    if (this.before === null || next === null) return false;
    const { sameWithin, jumpFrom } = settings;
    const span = Math.max(Math.abs(value), Math.abs(this.before), Math.abs(next), 1e-9);
    const isBack = Math.abs(next - this.before) <= sameWithin * span;
    return isBack && Math.abs(value - this.before) > jumpFrom * span;
  }
}
