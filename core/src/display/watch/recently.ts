/** What was said over the last seconds. */
export class Recently<T> {
  private list: { t: number; value: T }[] = [];

  constructor(private readonly seconds: number) {}

  /** @param t seconds, not before those before it */
  add(t: number, value: T): void {
    this.list.push({ t, value });
    const from = t - this.seconds;
    let old = 0;
    while (this.list[old].t < from) old++;
    if (old > 0) this.list.splice(0, old);
  }

  /** Share of what was said that is so, 0 to 1; null where nothing was said. */
  share(isSo: (value: T) => boolean): number | null {
    const { length } = this.list;
    return length === 0 ? null : this.list.filter(({ value }) => isSo(value)).length / length;
  }

  /** How often it changed between being so and not. */
  changes(isSo: (value: T) => boolean): number {
    return this.list.slice(1).filter(({ value }, k) => isSo(value) !== isSo(this.list[k].value)).length;
  }

  /** What was said most often, of what is not null; null where nothing was. */
  mostOften(): T | null {
    const times = new Map<T, number>();
    for (const { value } of this.list) if (value !== null) times.set(value, (times.get(value) ?? 0) + 1);
    return [...times].reduce<[T | null, number]>((a, b) => (b[1] > a[1] ? b : a), [null, 0])[0];
  }
}
