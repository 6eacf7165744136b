import { workKinds, type WorkKind } from '../catalogue/index.ts';

const msPerMinute = 60_000;

/** A job in somebody's hands. */
export interface HandTime {
  kind: WorkKind;
  who: string;
  from: Date;
  /** Null while it is still in hand. */
  to: Date | null;
}

/**
 * Minutes by kind of work within a span of time: what began before it or ends after it counts with the part inside.
 *
 * @param now end of what is still in hand
 * @returns minutes by kind, with who spent them; kinds with none are left out
 */
export function minutesByKind(
  times: readonly HandTime[],
  from: Date,
  to: Date,
  now: Date,
): { kind: WorkKind; minutes: number; by: { who: string; minutes: number }[] }[] {
  return workKinds.flatMap((kind) => {
    const by = new Map<string, number>();
    for (const time of times) {
      if (time.kind !== kind) continue;
      const end = Math.min((time.to ?? now).getTime(), to.getTime());
      const minutes = (end - Math.max(time.from.getTime(), from.getTime())) / msPerMinute;
      if (minutes > 0) by.set(time.who, (by.get(time.who) ?? 0) + minutes);
    }
    const minutes = [...by.values()].reduce((sum, m) => sum + m, 0);
    return minutes > 0 ? [{ kind, minutes, by: [...by].map(([who, m]) => ({ who, minutes: m })) }] : [];
  });
}
