import fc from 'fast-check';
import {
  blankImage,
  blurredImage,
  brightnessAt,
  grayOf,
  invertedProjection,
  isConvex,
  projectedPoint,
  projectionOf,
  rectifiedField,
  type Point,
  type Quad,
} from './index.ts';

const corner = (x: number, y: number) =>
  fc.tuple(fc.double({ min: x - 40, max: x + 40, noNaN: true }), fc.double({ min: y - 40, max: y + 40, noNaN: true }));
const anyQuad = fc.tuple(corner(100, 100), corner(500, 100), corner(500, 300), corner(100, 300)) as fc.Arbitrary<Quad>;
const unitSquare: Point[] = [
  [0, 0],
  [1, 0],
  [1, 1],
  [0, 1],
];

test('a projection takes the unit square to its quad, and back', () => {
  fc.assert(
    fc.property(
      anyQuad,
      fc.double({ min: 0, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
      (quad, u, v) => {
        const m = projectionOf(quad);
        unitSquare.forEach((p, k) => {
          const [x, y] = projectedPoint(m, p);
          expect([x, y]).toEqual([expect.closeTo(quad[k][0], 6), expect.closeTo(quad[k][1], 6)]);
        });
        const [bu, bv] = projectedPoint(invertedProjection(m), projectedPoint(m, [u, v]));
        expect([bu, bv]).toEqual([expect.closeTo(u, 6), expect.closeTo(v, 6)]);
      },
    ),
  );
});

test('lines stay lines', () => {
  fc.assert(
    fc.property(anyQuad, (quad) => {
      const m = projectionOf(quad);
      const [a, b, c] = (
        [
          [0.1, 0.2],
          [0.4, 0.5],
          [0.7, 0.8],
        ] as Point[]
      ).map((p) => projectedPoint(m, p));
      const area = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);
      expect(Math.abs(area)).toBeLessThan(1e-6);
    }),
  );
});

test.each([
  [
    'crossed',
    [
      [0, 0],
      [10, 10],
      [10, 0],
      [0, 10],
    ],
  ],
  [
    'three on a line',
    [
      [0, 0],
      [5, 0],
      [10, 0],
      [0, 10],
    ],
  ],
  [
    'one within the others',
    [
      [0, 0],
      [10, 0],
      [2, 2],
      [0, 10],
    ],
  ],
] as [string, Quad][])('corners that are %s are refused', (_, quad) => {
  expect(isConvex(quad)).toBe(false);
  expect(() => projectionOf(quad)).toThrow('Corners: expected four corners in turn');
});

test('a mirrored quad is one too: whoever holds the camera to a mirror is told by what is read', () => {
  expect(
    isConvex([
      [10, 0],
      [0, 0],
      [0, 10],
      [10, 10],
    ]),
  ).toBe(true);
});

test('what is rectified from the whole picture is the picture', () => {
  const image = blankImage(6, 4);
  image.data.forEach((_, k) => (image.data[k] = k / 24));
  const same = rectifiedField(
    image,
    [
      [0, 0],
      [6, 0],
      [6, 4],
      [0, 4],
    ],
    6,
    4,
  );
  same.data.forEach((b, k) => expect(b).toBeCloseTo(image.data[k], 6));
  expect(brightnessAt(image, -5, -5)).toBe(0);
  expect(brightnessAt(image, 99, 99)).toBeCloseTo(23 / 24, 6);
});

test('a blur keeps an even picture, spreads a point evenly, and leaves nothing out', () => {
  const even = blankImage(9, 7);
  even.data.fill(0.4);
  blurredImage(even, 2).data.forEach((b) => expect(b).toBeCloseTo(0.4, 6));
  const dot = blankImage(9, 7);
  dot.data[3 * 9 + 4] = 1;
  const spread = blurredImage(dot, 1);
  expect(spread.data.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
  expect(spread.data[2 * 9 + 3]).toBeCloseTo(1 / 9, 6);
});

test('grey is what the eye makes of the colours; a picture of another size is refused', () => {
  const { data } = grayOf([255, 255, 255, 255, 0, 0, 0, 255, 0, 255, 0, 255], 3, 1);
  expect([...data]).toEqual([expect.closeTo(1, 6), 0, expect.closeTo(0.587, 6)]);
  expect(() => grayOf([1, 2, 3], 1, 1)).toThrow('Picture: expected 4 bytes for 1 x 1, got 3.');
});
