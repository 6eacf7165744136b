import type { DisplayStyle, Ink } from './style.ts';

type Stroke = readonly (readonly [number, number])[];

/**
 * Points of an ellipse from one angle to another, degrees clockwise from the right.
 *
 * @param corner 2 for an ellipse; more draws it towards a rectangle
 */
function arc(cx: number, cy: number, rx: number, ry: number, from: number, to: number, corner = 2): Stroke {
  const steps = 18;
  const bent = (x: number): number => Math.sign(x) * Math.abs(x) ** (2 / corner);
  return Array.from({ length: steps + 1 }, (_, k) => {
    const a = ((from + ((to - from) * k) / steps) * Math.PI) / 180;
    return [cx + rx * bent(Math.cos(a)), cy + ry * bent(Math.sin(a))] as const;
  });
}

/** Digits as they are printed in a plain face, in a box of one by one. */
const plain: Readonly<Record<string, Stroke[]>> = {
  '0': [arc(0.5, 0.5, 0.5, 0.5, 0, 360)],
  '1': [
    [
      [0.2, 0.22],
      [0.55, 0],
      [0.55, 1],
    ],
  ],
  '2': [[...arc(0.5, 0.28, 0.46, 0.28, 190, 380), [0.04, 1], [1, 1]]],
  '3': [arc(0.46, 0.26, 0.44, 0.26, 200, 450), arc(0.46, 0.74, 0.5, 0.26, 270, 510)],
  '4': [
    [
      [0.75, 1],
      [0.75, 0],
      [0, 0.7],
      [1, 0.7],
    ],
  ],
  '5': [[[0.92, 0], [0.14, 0], [0.08, 0.46], ...arc(0.46, 0.68, 0.5, 0.32, 220, 500)]],
  '6': [
    [
      [0.8, 0],
      [0.1, 0.55],
    ],
    arc(0.5, 0.68, 0.46, 0.32, 0, 360),
  ],
  '7': [
    [
      [0, 0],
      [1, 0],
      [0.36, 1],
    ],
  ],
  '8': [arc(0.5, 0.25, 0.42, 0.25, 0, 360), arc(0.5, 0.74, 0.5, 0.26, 0, 360)],
  '9': [
    [
      [0.2, 1],
      [0.9, 0.45],
    ],
    arc(0.5, 0.32, 0.46, 0.32, 0, 360),
  ],
  '-': [
    [
      [0.1, 0.5],
      [0.9, 0.5],
    ],
  ],
};

/** With corners, a point in the nought, a foot under the one. */
const square: Readonly<Record<string, Stroke[]>> = {
  '0': [
    arc(0.5, 0.5, 0.5, 0.5, 0, 360, 4),
    [
      [0.5, 0.46],
      [0.5, 0.54],
    ],
  ],
  '1': [
    [
      [0.3, 0.12],
      [0.6, 0],
      [0.6, 1],
    ],
    [
      [0.3, 1],
      [0.9, 1],
    ],
  ],
  '2': [[...arc(0.5, 0.26, 0.5, 0.26, 200, 400, 3.5), [0.02, 1], [0.98, 1]]],
  '3': [arc(0.48, 0.25, 0.48, 0.25, 200, 450, 3.5), arc(0.48, 0.75, 0.52, 0.25, 270, 520, 3.5)],
  '4': [
    [
      [0.66, 0],
      [0.02, 0.66],
      [0.98, 0.66],
    ],
    [
      [0.66, 0],
      [0.66, 1],
    ],
  ],
  '5': [[[0.9, 0], [0.06, 0], [0.06, 0.42], ...arc(0.48, 0.7, 0.52, 0.3, 240, 500, 3.5)]],
  '6': [[...arc(0.5, 0.3, 0.5, 0.3, 320, 180, 3), [0, 0.7]], arc(0.5, 0.7, 0.5, 0.3, 0, 360, 3.5)],
  '7': [
    [
      [0.02, 0],
      [0.98, 0],
      [0.5, 1],
    ],
  ],
  '8': [arc(0.5, 0.24, 0.44, 0.24, 0, 360, 3.5), arc(0.5, 0.74, 0.5, 0.26, 0, 360, 3.5)],
  '9': [[...arc(0.5, 0.7, 0.5, 0.3, 140, 0, 3), [1, 0.3]], arc(0.5, 0.3, 0.5, 0.3, 0, 360, 3.5)],
  '-': [
    [
      [0.05, 0.5],
      [0.95, 0.5],
    ],
  ],
};

/** The same with a bar through the nought. */
const barred: Readonly<Record<string, Stroke[]>> = {
  ...square,
  '0': [
    arc(0.5, 0.5, 0.5, 0.5, 0, 360, 3),
    [
      [0.36, 0.8],
      [0.64, 0.2],
    ],
  ],
};

/** The same with another hand: a foot under the one, an open four, bowed six and nine. */
const other: Readonly<Record<string, Stroke[]>> = {
  ...plain,
  '0': [
    arc(0.5, 0.5, 0.46, 0.5, 0, 360),
    [
      [0.28, 0.74],
      [0.72, 0.26],
    ],
  ],
  '1': [
    [
      [0.25, 0.18],
      [0.5, 0],
      [0.5, 1],
    ],
    [
      [0.15, 1],
      [0.85, 1],
    ],
  ],
  '3': [[[0.06, 0], [0.9, 0], [0.46, 0.4], ...arc(0.46, 0.7, 0.5, 0.3, 270, 510)]],
  '4': [
    [
      [0.2, 0],
      [0.04, 0.62],
      [1, 0.62],
    ],
    [
      [0.74, 0.3],
      [0.74, 1],
    ],
  ],
  '6': [[...arc(0.56, 0.4, 0.5, 0.4, 300, 180), [0.05, 0.66]], arc(0.5, 0.7, 0.45, 0.3, 0, 360)],
  '7': [
    [
      [0, 0],
      [1, 0],
      [0.45, 0.55],
      [0.4, 1],
    ],
  ],
  '9': [[...arc(0.44, 0.6, 0.5, 0.4, 120, 0), [0.95, 0.34]], arc(0.5, 0.3, 0.45, 0.3, 0, 360)],
};

const hands = { plain, square, barred, other };

/** Lines of one thickness with round ends. */
export function strokesOf({ aspect, thickness, hand, bow }: DisplayStyle): Ink {
  const table = hands[hand];
  const half = thickness / 2;
  const placed = new Map(
    Object.entries(table).map(([char, strokes]) => [
      char,
      strokes.map((s) =>
        bowed(s, bow).map(([x, y]) => [half + x * (aspect - thickness), half + y * (1 - thickness)] as const),
      ),
    ]),
  );
  return (char, x, y) => (placed.get(char) ?? []).some((stroke) => isNear(stroke, x, y, half));
}

/** The same stroke, drawn by another hand. */
function bowed(stroke: Stroke, [a, b, c, d]: DisplayStyle['bow']): Stroke {
  return stroke.map(([x, y]) => [
    x + a * Math.sin(Math.PI * y) + b * (y - 0.5) * (x - 0.5),
    y + c * Math.sin(Math.PI * x) * (1 - y) * y * 2 + d * Math.sin(2 * Math.PI * y),
  ]);
}

function isNear(stroke: Stroke, x: number, y: number, half: number): boolean {
  for (let k = 1; k < stroke.length; k++) {
    const [[x0, y0], [x1, y1]] = [stroke[k - 1], stroke[k]];
    const [dx, dy] = [x1 - x0, y1 - y0];
    const along = Math.min(1, Math.max(0, ((x - x0) * dx + (y - y0) * dy) / (dx * dx + dy * dy + 1e-9)));
    const [ex, ey] = [x - x0 - along * dx, y - y0 - along * dy];
    if (ex * ex + ey * ey <= half * half) return true;
  }
  return false;
}
