import type { MeterReading } from '../dialect/index.ts';
import policy from './policy.json';

/** What a multimeter shows, and whether it has stood still for a while. */
export class ShownReading {
  private last: MeterReading | null = null;
  private tookAt = -Infinity;
  /** Since when it shows the same, seconds. */
  private sinceAt = -Infinity;

  /** @param at our clock, seconds */
  took(reading: MeterReading, at: number): void {
    if (!this.last || !isSame(this.last, reading)) this.sinceAt = at;
    [this.last, this.tookAt] = [reading, at];
  }

  forget(): void {
    this.last = null;
  }

  /** @returns null while it shows nothing, or has fallen silent */
  now(at: number): (MeterReading & { isStable: boolean }) | null {
    if (!this.last || at - this.tookAt > policy.readingOldS) return null;
    return { ...this.last, isStable: this.tookAt - this.sinceAt >= policy.stableS };
  }
}

/** The last digits of a display jump; what moves more is still settling. */
function isSame(a: MeterReading, b: MeterReading): boolean {
  if (a.mode !== b.mode || a.ol !== b.ol) return false;
  if (a.value === null || b.value === null) return true;
  const jumps = policy.jumpingDigits * Math.max(a.step ?? 0, b.step ?? 0);
  return Math.abs(a.value - b.value) <= Math.max(jumps, policy.stableShare * Math.abs(a.value));
}
