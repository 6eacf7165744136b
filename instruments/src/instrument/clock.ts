/**
 * Maps an instrument's own seconds to ours. A line is never received before it was sent, so the smallest delay seen is
 * the nearest to the truth (Cristian 1989); a slow drift of the instrument's clock is followed by forgetting old delays.
 */
export class ClockMap {
  private readonly delays: { at: number; offset: number }[] = [];
  private last = -Infinity;

  /** @param windowS for how long a delay is remembered */
  constructor(private readonly windowS = 30) {}

  /**
   * @param theirs seconds on the instrument's clock
   * @param ours seconds on our clock when the line arrived
   * @returns the instant of the sample on our clock: never after its arrival, never before the sample before
   */
  map(theirs: number, ours: number): number {
    const offset = ours - theirs;
    // A clock that was set back or restarted begins anew.
    if (this.delays.length > 0 && offset > this.delays[0].offset + this.windowS) this.delays.length = 0;
    while (this.delays.length > 0 && this.delays[0].at < ours - this.windowS) this.delays.shift();
    // Kept rising: the first is the smallest in the window.
    while (this.delays.length > 0 && this.delays[this.delays.length - 1].offset >= offset) this.delays.pop();
    this.delays.push({ at: ours, offset });
    this.last = Math.min(ours, Math.max(this.last, theirs + this.delays[0].offset));
    return this.last;
  }
}
