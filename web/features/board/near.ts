/** Something at a place of the board, widths of the board. */
interface Placed {
  x: number;
  y: number;
}

const ways = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] } as const;
type Way = keyof typeof ways;
export const isWay = (key: string): key is Way => Object.hasOwn(ways, key);

/** What lies beside the way counts twice: the next one to the right is rather to the right than near. */
const besideCounts = 2;

/**
 * The point that an arrow key goes to: the nearest in that direction.
 *
 * @returns null where there is none
 */
export function nextTowards<T extends Placed>(points: readonly T[], from: Placed, way: Way): T | null {
  const [wx, wy] = ways[way];
  let best: { point: T; far: number } | null = null;
  for (const point of points) {
    const [dx, dy] = [point.x - from.x, point.y - from.y];
    const along = dx * wx + dy * wy;
    const beside = Math.abs(dx * wy) + Math.abs(dy * wx);
    if (along <= 0 || beside > besideCounts * along) continue;
    const far = along + besideCounts * beside;
    if (!best || far < best.far) best = { point, far };
  }
  return best?.point ?? null;
}

/** Widths of the board that an arrow key moves something by; with Shift ten times as much. */
const keyStep = 0.002;
const coarse = 10;

/** A place moved by an arrow key, within the board. */
export function movedBy({ x, y }: Placed, way: Way, isCoarse: boolean, height: number): Placed {
  const step = keyStep * (isCoarse ? coarse : 1);
  const within = (v: number, most: number): number => Math.min(most, Math.max(0, v));
  return { x: within(x + ways[way][0] * step, 1), y: within(y + ways[way][1] * step, height) };
}
