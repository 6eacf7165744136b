/** 95 % of a normal distribution lie within this many standard deviations. */
const usualZ = 1.96;

/** A share with what it may be, 0 to 1. */
export interface Share {
  hits: number;
  of: number;
  share: number;
  low: number;
  high: number;
}

/**
 * A share with its 95 % interval, honest for small numbers and near 0 and 1.
 *
 * @param hits how often it was so
 * @param of how often it was looked at
 * @returns from 0 to 1 where nothing was looked at
 * @see E. B. Wilson, Probable inference, the law of succession, and statistical inference, JASA 1927
 * @example wilsonInterval(0, 0).high // 1
 */
export function wilsonInterval(hits: number, of: number): Share {
  if (of <= 0) return { hits: 0, of: 0, share: 0, low: 0, high: 1 };
  const share = hits / of;
  const z2 = usualZ ** 2;
  const middle = (share + z2 / (2 * of)) / (1 + z2 / of);
  const half = (usualZ / (1 + z2 / of)) * Math.sqrt((share * (1 - share)) / of + z2 / (2 * of) ** 2);
  return { hits, of, share, low: Math.max(0, middle - half), high: Math.min(1, middle + half) };
}
