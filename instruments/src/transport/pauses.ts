/** Pauses before something is asked again: each twice as long as the one before, up to a longest. Milliseconds. */
export class Pauses {
  private n = 0;

  constructor(private readonly of: { min: number; max: number }) {}

  next(): number {
    return Math.min(this.of.max, this.of.min * 2 ** this.n++);
  }

  /** It was answered: the next pause is the shortest again. */
  reset(): void {
    this.n = 0;
  }
}
