import { seededRandom } from '../../trace/index.ts';

/** Chosen values that are the same for the same seed. */
export interface Chance {
  between: (low: number, high: number) => number;
  /** A whole number, both ends among them. */
  whole: (low: number, high: number) => number;
  pick: <T>(list: readonly T[]) => T;
  yes: (share?: number) => boolean;
  shuffled: <T>(list: readonly T[]) => T[];
}

export function chance(seed: number): Chance {
  const next = seededRandom(seed);
  const whole = (low: number, high: number): number => low + Math.floor(next() * (high - low + 1));
  return {
    between: (low, high) => low + (high - low) * next(),
    whole,
    pick: (list) => list[Math.floor(next() * list.length)],
    yes: (share = 0.5) => next() < share,
    shuffled: (list) => {
      const out = [...list];
      for (let i = out.length - 1; i > 0; i--) {
        const k = whole(0, i);
        [out[i], out[k]] = [out[k], out[i]];
      }
      return out;
    },
  };
}
