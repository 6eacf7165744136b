/** Pixels that hang together. */
export interface Component {
  /** Index of every pixel, row by row. */
  pixels: number[];
  left: number;
  right: number;
  top: number;
  bottom: number;
}

/**
 * Parts of a mask that hang together, by sides and corners.
 *
 * @param mask width x height; above 0 belongs to a part
 * @see A. Rosenfeld, J. Pfaltz, Sequential operations in digital picture processing, 1966
 */
export function componentsOf(mask: ArrayLike<number>, width: number, height: number): Component[] {
  const isDone = new Uint8Array(width * height);
  const out: Component[] = [];
  for (let start = 0; start < width * height; start++) {
    if (mask[start] <= 0 || isDone[start]) continue;
    out.push(grownFrom(start, { mask, isDone, width, height }));
  }
  return out;
}

interface Plane {
  mask: ArrayLike<number>;
  isDone: Uint8Array;
  width: number;
  height: number;
}

function grownFrom(start: number, { mask, isDone, width, height }: Plane): Component {
  const part: Component = { pixels: [], left: width, right: 0, top: height, bottom: 0 };
  const waiting = [start];
  isDone[start] = 1;
  for (let at = waiting.pop(); at !== undefined; at = waiting.pop()) {
    const [x, y] = [at % width, Math.floor(at / width)];
    part.pixels.push(at);
    part.left = Math.min(part.left, x);
    part.right = Math.max(part.right, x + 1);
    part.top = Math.min(part.top, y);
    part.bottom = Math.max(part.bottom, y + 1);
    for (let ny = Math.max(0, y - 1); ny <= Math.min(height - 1, y + 1); ny++)
      for (let nx = Math.max(0, x - 1); nx <= Math.min(width - 1, x + 1); nx++) {
        const next = ny * width + nx;
        if (mask[next] <= 0 || isDone[next]) continue;
        isDone[next] = 1;
        waiting.push(next);
      }
  }
  return part;
}
