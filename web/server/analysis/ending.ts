/**
 * The end of something that many wait beside. A promise that never settles would keep every answer that was ever raced
 * against it: here only those who wait now are remembered.
 */
export class Ending {
  private readonly waiting = new Set<(error: Error) => void>();
  private error: Error | null = null;

  /** It ended: whoever waits beside it, and whoever comes later, is told. */
  end(error: Error): void {
    this.error ??= error;
    for (const tell of this.waiting) tell(this.error);
    this.waiting.clear();
  }

  /** @returns how many wait beside it now */
  get count(): number {
    return this.waiting.size;
  }

  /** @throws {Error} where it ends before the work does */
  beside<T>(work: Promise<T>): Promise<T> {
    return new Promise<T>((resolve, reject) => {
      if (this.error) reject(this.error);
      else this.waiting.add(reject);
      work.then(resolve, reject).finally(() => this.waiting.delete(reject));
    });
  }
}
