/** A circuit in a call, with the whole percentage that it is given. */
export interface Share {
  circuit: string;
  percent: number;
}

const whole = 100;

/**
 * The shares after one of them was moved: the others keep their proportions and all sum to 100, in whole percentages. What
 * rounding leaves over goes to the largest of the others.
 *
 * @param to the moved one's new percentage; bounded to 0 to 100
 */
export function movedShare(shares: readonly Share[], index: number, to: number): Share[] {
  const set = Math.round(Math.min(whole, Math.max(0, to)));
  if (shares.length === 1) return [{ ...shares[0], percent: whole }];
  const rest = whole - set;
  const before = shares.reduce((sum, s, k) => sum + (k === index ? 0 : s.percent), 0);
  const others = shares.length - 1;
  const next = shares.map((s, k) => {
    if (k === index) return { ...s, percent: set };
    return { ...s, percent: Math.floor(before > 0 ? (s.percent / before) * rest : rest / others) };
  });
  const left = whole - next.reduce((sum, s) => sum + s.percent, 0);
  const largest = next.reduce(
    (best, s, k) => (k !== index && (best < 0 || s.percent > next[best].percent) ? k : best),
    -1,
  );
  return next.map((s, k) => (k === largest ? { ...s, percent: s.percent + left } : s));
}

/** The shares with one circuit more, which has none yet; all of it where it is the first. */
export function addedShare(shares: readonly Share[], circuit: string): Share[] {
  if (shares.some((s) => s.circuit === circuit)) return [...shares];
  return [...shares, { circuit, percent: shares.length === 0 ? whole : 0 }];
}

/** The shares without one; what it had goes to the others. */
export function withoutShare(shares: readonly Share[], index: number): Share[] {
  const emptied = movedShare(shares, index, 0);
  const left = emptied.filter((_, k) => k !== index);
  return left.length === 1 ? [{ ...left[0], percent: whole }] : left;
}
