import { seededRandom } from '../../trace/index.ts';
import { drawNumberText, drawScene, filmedImage } from '@umbral/tools';
import {
  blankImage,
  componentsOf,
  drawDisplay,
  drawStyle,
  findInPictures,
  findNumbers,
  isWithin,
  shippedNetwork,
  type Point,
  type Quad,
} from '../index.ts';

const net = shippedNetwork();
const middle = (quad: Quad): Point => [0, 1].map((k) => quad.reduce((sum, p) => sum + p[k], 0) / 4) as unknown as Point;

test('most numbers of a filmed display are found and read, whatever its kind', () => {
  let [found, all] = [0, 0];
  for (let seed = 1; seed <= 8; seed++) {
    const random = seededRandom(61_000 + seed);
    const scene = drawScene('familiar', random);
    const texts: [string, string] = [`1${drawNumberText(random)}`.replace('-', ''), '0.123'];
    const numbers = findNumbers(net, filmedImage(scene.camera, [scene.draw(...texts)], random));
    texts.forEach((text, k) => {
      all++;
      if (numbers.some((n) => n.reads.text === text && isWithin(middle(n.quad), scene.fields[k]))) found++;
    });
  }
  expect(found).toBeGreaterThan(0.7 * all);
});

test('nothing is found where nothing is written', () => {
  expect(findNumbers(net, blankImage(320, 240))).toEqual([]);
  const random = seededRandom(5);
  const wall = blankImage(320, 240);
  wall.data.forEach((_, k) => (wall.data[k] = 0.5 + 0.05 * Math.sin(k / 4000) + 0.01 * random()));
  expect(findNumbers(net, wall)).toEqual([]);
});

test('a number has room to its left where a longer one will stand', () => {
  const style = { ...drawStyle('familiar', seededRandom(2)), kind: 'segments' as const, hand: 'plain' as const };
  const display = drawDisplay(
    { ...style, isLightOnDark: true, ink: 0.9, ground: 0.1, slant: 0.05, unlit: 0 },
    [{ text: '9.87', right: 0.9, middle: 0.5, height: 0.3 }],
    { width: 480, height: 200 },
  );
  const [number] = findNumbers(net, display);
  expect(number.reads.text).toBe('9.87');
  const height = number.quad[3][1] - number.quad[0][1];
  // Three digits of some six tenths of the height each, and more than one to spare.
  expect(number.quad[1][0] - number.quad[0][0]).toBeGreaterThan(2.6 * height);
});

test('of several pictures the one with both numbers is taken; a picture that is whole ends the search', () => {
  const random = seededRandom(61_003);
  const scene = drawScene('familiar', random);
  const whole = filmedImage(scene.camera, [scene.draw('12.45', '0.267')], random);
  const covered = { ...whole, data: whole.data.map((x, k) => (k > (whole.data.length * 3) / 5 ? 0.5 : x)) };
  const looked: string[] = [];
  function* pictures() {
    for (const [name, picture] of Object.entries({ covered, whole, again: covered })) {
      looked.push(name);
      yield picture;
    }
  }
  const found = findInPictures(net, pictures());
  expect(found.map((n) => n.reads.text)).toEqual(expect.arrayContaining(['12.45', '0.267']));
  expect(looked).toEqual(['covered', 'whole']);
});

test('parts that touch, also by a corner, hang together', () => {
  const mask = [1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 1];
  const parts = componentsOf(mask, 4, 3);
  expect(parts.map((p) => p.pixels.length).sort()).toEqual([1, 2].sort());
  expect(parts[0]).toMatchObject({ left: 0, right: 1, top: 0, bottom: 2 });
});
