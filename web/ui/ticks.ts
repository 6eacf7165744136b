/** A few round levels that read well on the stretched axis. */
export function currentTicks(highest: number, linear = false): number[] {
  const round = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50];
  if (linear) return round.filter((x) => x <= highest && x > highest / 6).slice(-4);
  return round.filter((x) => x <= highest * 1.02 && x >= highest / 30).slice(-4);
}

/** Round voltages that a growing run is drawn against: the one at the top of the picture, and half of it. */
export function voltTicks(highest: number): [half: number, top: number] {
  const top = [5, 10, 15, 20, 30, 40].find((v) => v >= 1.05 * highest) ?? Math.ceil(highest / 20) * 20;
  return [top / 2, top];
}

/** Least room between two names on one line, and the width of a letter, pixels. */
const [nameGap, letter] = [10, 7.4];

/**
 * The line that each name stands on, so that no two overprint: the first that is free at its place.
 *
 * @param names where each stands in the picture, 0 to 1, in order; near the right edge a name stands to the left of it
 * @param width of the picture, pixels
 */
export function nameLines(
  names: readonly { share: number; says: string }[],
  width: number,
  { edgeShare = 1 }: { edgeShare?: number } = {},
): number[] {
  const ends: number[] = [];
  return names.map(({ share, says }) => {
    const long = letter * says.length;
    const left = share > edgeShare ? share * width - long : share * width;
    const line = ends.findIndex((end) => end + nameGap <= left);
    const at = line < 0 ? ends.length : line;
    ends[at] = left + long;
    return at;
  });
}

/** Steps between instants that are written under a run that grows, seconds. */
const timeSteps = [2, 5, 10, 20, 30, 60, 120, 300, 600, 1800, 3600, 7200, 21_600];
const mostInstants = 8;

/** Instants that are written under a run of so many seconds, and how. */
export function timeTicks(seconds: number): { t: number; says: string }[] {
  const step = timeSteps.find((s) => seconds / s <= mostInstants) ?? Math.ceil(seconds / mostInstants);
  const says = (t: number): string => (step < 60 ? `${t} s` : step < 3600 ? `${t / 60} min` : `${t / 3600} h`);
  return Array.from({ length: Math.floor(seconds / step) + 1 }, (_, k) => ({ t: k * step, says: says(k * step) }));
}
