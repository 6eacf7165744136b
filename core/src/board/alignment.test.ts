import fc from 'fast-check';
import { projectedPoint, type Point, type Quad } from '../display/index.ts';
import {
  alignmentThrough,
  cssTransform,
  cutOut,
  heightOf,
  inPicture,
  onBoard,
  regionAround,
  type Pair,
} from './index.ts';

/** Where a camera sees a place of a board that is tilted, turned and at some distance. Widths of the picture. */
function seenBy(pose: { tilt: number; towards: number; turn: number; distance: number }, boardHeight: number) {
  const { tilt, towards, turn, distance } = pose;
  return ([x, y]: Point): Point => {
    const [u, v] = [x - 0.5, y - boardHeight / 2];
    const [tu, tv] = [u * Math.cos(turn) - v * Math.sin(turn), u * Math.sin(turn) + v * Math.cos(turn)];
    const along = tu * Math.cos(towards) + tv * Math.sin(towards);
    const [px, py] = [
      tu + along * (Math.cos(tilt) - 1) * Math.cos(towards),
      tv + along * (Math.cos(tilt) - 1) * Math.sin(towards),
    ];
    const depth = distance + along * Math.sin(tilt);
    return [0.5 + px / depth, 0.4 + py / depth];
  };
}

const degrees = Math.PI / 180;
const anyPose = fc.record({
  tilt: fc.double({ min: 0, max: 25 * degrees, noNaN: true }),
  towards: fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }),
  turn: fc.double({ min: -40 * degrees, max: 40 * degrees, noNaN: true }),
  distance: fc.double({ min: 1.3, max: 4, noNaN: true }),
});
const boardHeight = 0.6;
const corners: Point[] = [
  [0.08, 0.07],
  [0.93, 0.05],
  [0.9, 0.55],
  [0.06, 0.52],
];
const anyPlace = fc.tuple(
  fc.double({ min: 0, max: 1, noNaN: true }),
  fc.double({ min: 0, max: boardHeight, noNaN: true }),
);

test('four points bring every place of a tilted shot to where it is, whatever the camera and their order', () => {
  fc.assert(
    fc.property(anyPose, fc.shuffledSubarray(corners, { minLength: 4 }), anyPlace, (pose, places, place) => {
      const seen = seenBy(pose, boardHeight);
      const alignment = alignmentThrough(places.map((to) => ({ from: seen(to), to })));
      const [x, y] = onBoard(alignment, seen(place));
      expect(Math.hypot(x - place[0], y - place[1])).toBeLessThan(1e-6);
      const [u, v] = inPicture(alignment, place);
      expect(Math.hypot(u - seen(place)[0], v - seen(place)[1])).toBeLessThan(1e-6);
    }),
  );
});

test('clicked by hand on shots tilted up to 25 degrees, the median error is under half a percent of the width', () => {
  // A click is as good as two pixels of a picture that is a thousand wide.
  const click = fc.double({ min: -0.002, max: 0.002, noNaN: true });
  const clicks = fc.array(fc.tuple(click, click), { minLength: 4, maxLength: 4 });
  const errors = fc.sample(fc.tuple(anyPose, clicks, anyPlace), 2000).map(([pose, off, place]) => {
    const seen = seenBy(pose, boardHeight);
    const pairs = corners.map((to, k): Pair => {
      const [x, y] = seen(to);
      return { from: [x + off[k][0], y + off[k][1]], to };
    });
    const [x, y] = onBoard(alignmentThrough(pairs), seen(place));
    return Math.hypot(x - place[0], y - place[1]);
  });
  errors.sort((a, b) => a - b);
  expect(errors[errors.length / 2]).toBeLessThan(0.005);
});

test('two points give shift, turn and size; three the slant', () => {
  const turned =
    (angle: number, size: number) =>
    ([x, y]: Point): Point => [
      0.2 + size * (x * Math.cos(angle) - y * Math.sin(angle)),
      0.1 + size * (x * Math.sin(angle) + y * Math.cos(angle)),
    ];
  fc.assert(
    fc.property(
      fc.double({ min: -3, max: 3, noNaN: true }),
      fc.double({ min: 0.3, max: 3, noNaN: true }),
      anyPlace,
      (angle, size, place) => {
        const to = turned(angle, size);
        for (const places of [corners.slice(0, 2), corners.slice(0, 3)]) {
          const [x, y] = onBoard(alignmentThrough(places.map((from) => ({ from, to: to(from) }))), place);
          expect(Math.hypot(x - to(place)[0], y - to(place)[1])).toBeLessThan(1e-9);
        }
      },
    ),
  );
});

const same = (places: readonly Point[]): Pair[] => places.map((p) => ({ from: p, to: p }));
const mirror = (pairs: readonly Pair[]): Pair[] => pairs.map(({ from: [x, y], to }) => ({ from: [1 - x, y], to }));

test.each<[string, Pair[], string]>([
  ['one point', same(corners.slice(0, 1)), 'expected 2 to 4 shared points, got 1'],
  ['five points', same([...corners, [0.5, 0.3]]), 'got 5'],
  ['twice the same', same([corners[0], corners[1], [0.081, 0.071]]), '1 and 3 are at the same place'],
  [
    'three on a line',
    same([
      [0, 0],
      [0.3, 0.3],
      [0.6, 0.6],
    ]),
    'on one line',
  ],
  [
    'four of which one lies within',
    same([
      [0, 0],
      [1, 0],
      [0.5, 0.5],
      [0.5, 0.2],
    ]),
    'inside the other three',
  ],
  ['the other side, three points', mirror(same(corners.slice(0, 3))), 'mirrored'],
  ['the other side, four points', mirror(same(corners)), 'mirrored'],
  ['two that were swapped', corners.map((to, k) => ({ from: corners[[1, 0, 2, 3][k]], to })), 'swapped'],
])('%s is refused in words', (_, pairs, message) => expect(() => alignmentThrough(pairs)).toThrow(message));

test('the height of a board from its corners', () => {
  const quad: Quad = [
    [0.1, 0.1],
    [0.9, 0.1],
    [0.9, 0.5],
    [0.1, 0.5],
  ];
  expect(heightOf(quad)).toBeCloseTo(0.5, 9);
  expect(() => heightOf([quad[1], quad[0], quad[3], quad[2]])).toThrow('clockwise');
  expect(() => heightOf([quad[0], quad[2], quad[1], quad[3]])).toThrow('swapped');
  expect(() =>
    heightOf([
      [0, 0],
      [1, 0],
      [1, 0.01],
      [0, 0.01],
    ]),
  ).toThrow('times as long as it is wide');
});

/** What a browser makes of matrix3d, in the plane. */
function drawn(transform: string, [x, y]: Point): Point {
  const m = transform.slice('matrix3d('.length, -1).split(',').map(Number);
  return projectedPoint([m[0], m[4], m[12], m[1], m[5], m[13], m[3], m[7], m[15]], [x, y]);
}

test('the browser draws a picture where its alignment says', () => {
  fc.assert(
    fc.property(anyPose, anyPlace, (pose, place) => {
      const seen = seenBy(pose, boardHeight);
      const alignment = alignmentThrough(corners.map((to) => ({ from: seen(to), to })));
      const [u, v] = seen(place);
      const [x, y] = drawn(cssTransform(alignment, 1600, 900), [1600 * u, 1600 * v]);
      expect(Math.hypot(x - 900 * place[0], y - 900 * place[1])).toBeLessThan(1e-3);
    }),
  );
});

describe('a part of the board that is cut out of a picture', () => {
  /** Every pixel says where it is: red across, green down. */
  const chart = {
    width: 200,
    height: 100,
    channels: 3,
    data: Uint8Array.from({ length: 200 * 100 * 3 }, (_, k) => {
      const [pixel, channel] = [Math.floor(k / 3), k % 3];
      return channel === 0 ? pixel % 200 : channel === 1 ? Math.floor(pixel / 200) : 7;
    }),
  };

  test('is what lies there, straight', () => {
    const flat = alignmentThrough(
      same([
        [0, 0],
        [1, 0],
        [1, 0.5],
        [0, 0.5],
      ]),
    );
    const cut = cutOut(chart, flat, { x: 0.25, y: 0.125, width: 0.5, height: 0.25 }, 100);
    expect([cut.width, cut.height]).toEqual([100, 50]);
    expect([...cut.data.slice(0, 3)]).toEqual([50, 25, 7]);
    expect([...cut.data.slice(-3)]).toEqual([149, 74, 7]);
  });

  test('is empty where the picture does not reach', () => {
    const half = alignmentThrough([
      { from: [0, 0], to: [0, 0] },
      { from: [1, 0], to: [0.5, 0] },
    ]);
    const cut = cutOut(chart, half, { x: 0, y: 0, width: 1, height: 0.25 }, 40, 9);
    expect(cut.data[3 * 39]).toBe(9);
    expect(cut.data[0]).toBeLessThan(9);
  });

  test('stays on the board', () => {
    fc.assert(
      fc.property(anyPlace, fc.double({ min: 0.05, max: 1.5, noNaN: true }), (place, size) => {
        const { x, y, width, height } = regionAround(place, boardHeight, size);
        expect(Math.min(x, y)).toBeGreaterThanOrEqual(0);
        expect(x + width).toBeLessThanOrEqual(1 + 1e-12);
        expect(y + height).toBeLessThanOrEqual(boardHeight + 1e-12);
      }),
    );
  });
});
