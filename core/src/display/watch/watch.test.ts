import { seededRandom } from '../../trace/index.ts';
import { drawScene, filmedImage } from '@umbral/tools';
import {
  blankImage,
  cornersOf,
  DisplayReader,
  Follower,
  mirroredImage,
  powerAgrees,
  readFraming,
  Recently,
  reducedImage,
  refoundIn,
  refreshPeriod,
  shippedNetwork,
  type DisplayReading,
  type Framing,
  type GrayImage,
  type Point,
  type Quad,
} from '../index.ts';

const net = shippedNetwork();
/** A display that reads well, and a camera that does not move. */
const seed = 42;

interface Filmed {
  framing: Framing;
  picture: (volts: string, amps: string) => GrayImage;
}

const pictures = new Map<string, GrayImage>();

function film(decimals: [number | null, number | null] = [2, 3]): Filmed {
  const random = seededRandom(seed);
  const scene = drawScene('familiar', random);
  const number = (quantity: 'volts' | 'amps', k: 0 | 1) => ({
    quantity,
    corners: cornersOf(scene.fields[k], scene.camera),
    unit: 1,
    decimals: decimals[k],
  });
  return {
    framing: { numbers: [number('volts', 0), number('amps', 1)], isMirrored: false },
    picture: (volts, amps) => {
      const key = `${volts} ${amps}`;
      const known = pictures.get(key) ?? filmedImage(scene.camera, [scene.draw(volts, amps)], random);
      pictures.set(key, known);
      return known;
    },
  };
}

/** The same picture with the camera pushed, in pixels. */
function pushed(image: GrayImage, dx: number, dy: number): GrayImage {
  const out = blankImage(image.width, image.height);
  for (let y = 0; y < image.height; y++)
    for (let x = 0; x < image.width; x++) {
      const [sx, sy] = [
        Math.min(image.width - 1, Math.max(0, x - dx)),
        Math.min(image.height - 1, Math.max(0, y - dy)),
      ];
      out.data[y * image.width + x] = image.data[sy * image.width + sx];
    }
  return out;
}

const values = (readings: (DisplayReading | null)[]) => readings.flatMap((r) => (r ? [[r.volts, r.amps]] : []));

describe('a display that is watched', () => {
  test('is read one picture late, in volts and amperes', () => {
    const { framing, picture } = film();
    const reader = new DisplayReader(net, framing);
    const shown = ['0.120', '0.120', '0.350', '0.351', '0.351'];
    const read = shown.map((amps, k) => reader.take(k / 10, picture('3.85', amps)));
    expect(values(read)).toEqual(shown.slice(0, -1).map((amps) => [3.85, Number(amps)]));
    expect(reader.state).toMatchObject({ note: null, doubtShare: 0, stepV: 0.01, stepA: 0.001 });
  });

  test('milliamperes are told in amperes, and what is something else is not read', () => {
    const { framing, picture } = film();
    const [volts, amps] = framing.numbers;
    const numbers = [
      { ...volts, quantity: 'ignored' as const },
      { ...amps, unit: 0.001 },
    ];
    const reader = new DisplayReader(net, { ...framing, numbers });
    reader.take(0, picture('3.85', '0.250'));
    const reading = reader.take(0.1, picture('3.85', '0.250'));
    expect(reading?.volts).toBeNull();
    expect(reading?.amps).toBeCloseTo(0.00025, 9);
    expect(reading?.doubts).toEqual([null, null]);
  });

  test('is followed when the camera is pushed a little', () => {
    const { framing, picture } = film();
    const reader = new DisplayReader(net, framing);
    for (let k = 0; k < 3; k++) reader.take(k / 10, picture('3.85', '0.250'));
    const read = [1, 2, 3, 4].map((k) => reader.take((3 + k) / 10, pushed(picture('3.85', '0.250'), 6 * k, -4 * k)));
    expect(values(read)).toEqual([1, 2, 3, 4].map(() => [3.85, 0.25]));
    const [at, was] = [reader.state.corners[0][0], framing.numbers[0].corners[0]];
    expect((at[0] - was[0]) * 640).toBeCloseTo(24, -1);
    expect((at[1] - was[1]) * 480).toBeCloseTo(-16, -1);
  });

  test('a hand in front, a dark bench and another picture give nothing, and say why', () => {
    const { framing, picture } = film();
    const random = seededRandom(3);
    const hand = blankImage(640, 480);
    hand.data.forEach((_, k) => (hand.data[k] = 0.5 + 0.2 * Math.sin((k % 640) / 90) + 0.02 * random()));
    for (const [other, note] of [
      [hand, 'covered'],
      [blankImage(640, 480), 'covered'],
    ] as const) {
      const reader = new DisplayReader(net, framing);
      reader.take(0, picture('3.85', '0.250'));
      const read = Array.from({ length: 12 }, (_, k) => reader.take(0.1 * (k + 1), other));
      expect(values(read).slice(2)).toEqual(read.slice(2).map(() => [null, null]));
      expect(reader.state.note).toBe(note);
    }
  });

  test('a mirrored picture is told, and read once it is turned', () => {
    const { framing, picture } = film();
    const wrong = new DisplayReader(net, framing);
    // Framed where it stands, as somebody does who sees it so.
    const turned = {
      ...framing,
      numbers: framing.numbers.map((n) => ({ ...n, corners: n.corners.map(([x, y]): Point => [1 - x, y]) })),
    };
    const asSeen = turned.numbers.map((n) => ({
      ...n,
      corners: [n.corners[1], n.corners[0], n.corners[3], n.corners[2]] as const,
    }));
    const watching = new DisplayReader(net, { ...framing, numbers: asSeen });
    for (let k = 0; k < 30; k++) watching.take(k / 10, mirroredImage(picture('3.25', '0.256')));
    expect(watching.state.note).toBe('mirrored');
    const right = new DisplayReader(net, { ...framing, isMirrored: true });
    right.take(0, mirroredImage(picture('3.25', '0.256')));
    expect(right.take(0.1, mirroredImage(picture('3.25', '0.256')))).toMatchObject({ volts: 3.25, amps: 0.256 });
    expect(wrong.take(0, picture('3.25', '0.256'))).toBeNull();
  });

  test('a point that stands elsewhere than was said is a range, and nothing is read until it is allowed to move', () => {
    const { picture } = film();
    const told = new DisplayReader(net, film([2, 3]).framing);
    for (let k = 0; k < 10; k++) told.take(k / 10, picture('3.85', '2.50'));
    expect(told.state).toMatchObject({ note: 'range', doubtShare: 0.5 });
    const free = new DisplayReader(net, film([2, null]).framing);
    const read = Array.from({ length: 10 }, (_, k) => free.take(k / 10, picture('3.85', k < 5 ? '0.250' : '12.5')));
    expect(read.at(-1)?.amps).toBe(12.5);
    expect(values(read).map((r) => r[1])).not.toContain(1.25);
  });

  test('what the display holds is one reading for a while, and each new value is one at once', () => {
    const { framing, picture } = film();
    const reader = new DisplayReader(net, framing);
    // It changes every third picture.
    const read = Array.from({ length: 60 }, (_, k) =>
      reader.take(k / 15, picture('3.85', (0.1 + Math.floor(k / 3) / 100).toFixed(3))),
    );
    expect(reader.state.refreshS).toBeCloseTo(0.2, 1);
    const late = read.slice(40).flatMap((r) => (r ? [r.isSample] : []));
    expect(late.filter(Boolean).length).toBeLessThan(late.length / 2);
  });
});

test('volts times amperes are the watts, within their last digits', () => {
  const of = (value: number, step: number) => ({ value, step });
  expect(powerAgrees(of(5.12, 0.01), of(0.83, 0.01), of(4.2, 0.1), 0)).toBe(true);
  expect(powerAgrees(of(5.12, 0.01), of(0.43, 0.01), of(4.2, 0.1), 0.02)).toBe(false);
  expect(powerAgrees(of(20, 0.1), of(3, 0.1), of(63, 1), 0)).toBe(true);
});

describe('how often a display changes', () => {
  test('is found though it does not change every time', () => {
    const random = seededRandom(4);
    const changes: number[] = [];
    for (let k = 0; k < 60; k++) if (random() < 0.6) changes.push(0.25 * k + 0.02 * random());
    expect(refreshPeriod(changes)).toBeCloseTo(0.25, 1);
  });
  test('is not known from few changes, or from such as come by chance', () => {
    expect(refreshPeriod([0, 0.2, 0.4])).toBeNull();
    const random = seededRandom(5);
    const times = Array.from({ length: 40 }, () => 20 * random()).sort((a, b) => a - b);
    expect(refreshPeriod(times)).toBeNull();
  });
});

describe('a framing', () => {
  const corners: Quad = [
    [0.1, 0.1],
    [0.5, 0.1],
    [0.5, 0.2],
    [0.1, 0.2],
  ];
  const number = { quantity: 'amps', corners, unit: 1, decimals: 2 };
  test('is taken as it was kept', () => {
    expect(readFraming({ numbers: [number], isMirrored: false }).numbers).toHaveLength(1);
  });
  test.each([
    [{ numbers: [], isMirrored: false }, 'at least one number'],
    [{ numbers: [number, number], isMirrored: false }, 'one number only'],
    [{ numbers: [{ ...number, unit: 0 }], isMirrored: false }, 'unit'],
    [
      { numbers: [{ ...number, corners: [corners[0], corners[2], corners[1], corners[3]] }], isMirrored: false },
      'four corners',
    ],
    [{ numbers: [{ ...number, corners: corners.map(([x, y]) => [x + 3, y]) }], isMirrored: false }, 'corners'],
    [null, 'framing'],
  ])('that cannot be is refused with its place: %#', (value, says) => {
    expect(() => readFraming(value)).toThrow(says);
  });
});

test('framed numbers are found again where most of them lie, moved and a little larger', () => {
  const at = (x: number, y: number, h: number): Quad => [
    [x - 3 * h, y],
    [x, y],
    [x, y + h],
    [x - 3 * h, y + h],
  ];
  const was = [at(0.6, 0.3, 0.1), at(0.6, 0.5, 0.1)];
  const again = refoundIn(was, [at(0.66, 0.28, 0.11), at(0.66, 0.5, 0.11), at(0.2, 0.9, 0.05)]);
  expect(again?.[0][1][0]).toBeCloseTo(0.66, 2);
  expect(again?.[1][1][1]).toBeCloseTo(0.5, 2);
  expect(refoundIn(was, [at(0.1, 0.9, 0.3)])).toBeNull();
});

test('a follower says how far a picture has moved, and that another one does not fit', () => {
  const { picture } = film();
  const follower = new Follower();
  expect(follower.moved(picture('3.85', '0.250')).fit).toBeCloseTo(1, 6);
  const moved = follower.moved(pushed(picture('3.85', '0.250'), 14, -7));
  expect(moved.x * 640).toBeCloseTo(14, -1);
  expect(moved.y * 480).toBeCloseTo(-7, -1);
  expect(moved.fit).toBeGreaterThan(0.6);
  expect(follower.moved(blankImage(640, 480)).fit).toBeLessThan(0.35);
});

test('what was said recently is forgotten after its time', () => {
  const said = new Recently<string | null>(2);
  for (const [t, what] of [
    [0, 'a'],
    [1, null],
    [2.5, 'b'],
    [3, 'b'],
  ] as const)
    said.add(t, what);
  expect(said.share((x) => x === 'a')).toBe(0);
  expect(said.share((x) => x === 'b')).toBeCloseTo(2 / 3, 9);
  expect(said.mostOften()).toBe('b');
  expect(said.changes((x) => x === null)).toBe(1);
  expect(new Recently(1).share(() => true)).toBeNull();
});

test('a picture made smaller keeps its mean', () => {
  const { picture } = film();
  const image = picture('3.85', '0.250');
  const mean = ({ data }: GrayImage): number => data.reduce((a, b) => a + b, 0) / data.length;
  expect(mean(reducedImage(image, 160, 120))).toBeCloseTo(mean(image), 3);
});
