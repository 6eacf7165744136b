import { seededRandom } from '../../trace/index.ts';
import { drawNumberText, drawScene, filmedImage } from '@umbral/tools';
import {
  blankImage,
  charactersOf,
  drawDisplay,
  drawStyle,
  fieldCharacters,
  levelledField,
  pointPlaces,
  pointsOf,
  readField,
  shippedNetwork,
  type GrayImage,
  type Quad,
} from '../index.ts';

const net = shippedNetwork();
const whole = ({ width, height }: GrayImage): Quad => [
  [0, 0],
  [width, 0],
  [width, height],
  [0, height],
];
/** A display of one number, from the front. */
const shown = (text: string, seed: number, isLightOnDark: boolean): GrayImage => {
  const style = { ...drawStyle('familiar', seededRandom(seed)), kind: 'segments' as const, hand: 'plain' as const };
  const [ink, ground] = isLightOnDark ? [0.9, 0.1] : [0.1, 0.9];
  const numbers = [{ text, right: 0.95, middle: 0.5, height: 0.7 }];
  return drawDisplay({ ...style, isLightOnDark, ink, ground, slant: 0.08 }, numbers, { width: 300, height: 80 });
};

test.each([true, false])('every digit is read from the front, light on dark: %s', (isLightOnDark) => {
  for (const [k, text] of ['0.123', '45.67', '8.9', '-2.05', '1111', '7.000'].entries()) {
    const display = shown(text, 40 + k, isLightOnDark);
    expect(readField(net, display, whole(display))).toMatchObject({ text, value: Number(text) });
  }
});

test('how light falls on it changes nothing: bright and dark are told from their surroundings', () => {
  const display = shown('12.34', 3, true);
  const lit = { ...display, data: display.data.map((b, k) => b * 0.5 + 0.45 * ((k % display.width) / display.width)) };
  expect(levelledField(lit)?.isLightOnDark).toBe(true);
  expect(levelledField({ ...display, data: display.data.map((b) => 1 - b) })?.isLightOnDark).toBe(false);
  expect(readField(net, lit, whole(lit))).toMatchObject({ text: '12.34' });
});

test('a dark bench, a blank wall and a hand give no number', () => {
  const dark = blankImage(300, 80);
  expect(readField(net, dark, whole(dark))).toBe('dark');
  const wall = { ...dark, data: dark.data.map((_, k) => 0.5 + 0.001 * Math.sin(k)) };
  expect(readField(net, wall, whole(wall))).toBe('dark');
  const random = seededRandom(8);
  // A finger: one broad bright shape over the whole field.
  const hand = {
    ...dark,
    data: dark.data.map((_, k) => (k % 300 > 90 && k % 300 < 230 ? 0.6 + 0.02 * random() : 0.1)),
  };
  expect(typeof readField(net, hand, whole(hand))).toBe('string');
});

test('a number that reaches the edge of its frame is not read: there may be more of it outside', () => {
  const display = shown('12.34', 3, true);
  const [, right, low, left] = whole(display);
  const { width, height, data } = display;
  const isInk = (x: number): boolean =>
    Array.from({ length: height }, (_, y) => data[y * width + x]).some((v) => v > 0.6);
  let cuts = 0;
  for (let x = 0; x < width - 40; x += 2) {
    // The frame begins in the middle of a character.
    if (!isInk(x - 2) || !isInk(x) || !isInk(x + 2)) continue;
    cuts++;
    expect(readField(net, display, [[x, 0], right, low, [x, left[1]]])).toBe('cut-off');
  }
  expect(cuts).toBeGreaterThan(10);
  expect(readField(net, display, whole(display))).toMatchObject({ text: '12.34' });
});

test('characters that touch are cut apart, and their lean is taken out', () => {
  const display = shown('8888', 12, true);
  const level = levelledField(display);
  const row = level && charactersOf(level.ink);
  expect(row?.boxes).toHaveLength(4);
  expect(row?.slant).toBeGreaterThan(0.03);
});

test('what somebody would read off a filmed display is read, or is not sure', () => {
  let [right, sure, wrong] = [0, 0, 0];
  for (let seed = 1; seed <= 20; seed++) {
    const random = seededRandom(90_000 + seed);
    const scene = drawScene('strange', random);
    const texts: [string, string] = [drawNumberText(random), drawNumberText(random)];
    const picture = filmedImage(scene.camera, [scene.draw(...texts)], random, 1, random());
    texts.forEach((text, f) => {
      const seen = readField(net, picture, scene.fields[f]);
      if (typeof seen === 'string' || seen.p < 0.97) return;
      sure++;
      if (seen.text === text) right++;
      else wrong++;
    });
  }
  expect(wrong).toBeLessThanOrEqual(1);
  expect(right).toBeGreaterThan(24);
  expect(sure).toBe(right + wrong);
});

test('a point stands after the character before it', () => {
  expect([...pointsOf('12.34')]).toEqual([1]);
  expect([...pointsOf('1234')]).toEqual([]);
});

test('the same scene is drawn and filmed the same', () => {
  const film = (): GrayImage => {
    const random = seededRandom(5);
    const scene = drawScene('familiar', random);
    return filmedImage(scene.camera, [scene.draw('1.00', '0.500')], random);
  };
  expect([...film().data.slice(5000, 5050)]).toEqual([...film().data.slice(5000, 5050)]);
  expect(typeof fieldCharacters(film(), drawScene('familiar', seededRandom(5)).fields[0])).toBe('object');
});

test('a number has one point at most, and none behind its last digit', () => {
  const places = pointPlaces([0.01, 0.95, 0.02, 0.9]);
  expect(places).toHaveLength(4);
  expect(places.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
  // Two digits behind it: the odds of 19 beside 0.01, 0.02 and none.
  expect(places[2]).toBeCloseTo(19 / (1 + 19 + 1 / 99 + 2 / 98), 6);
});

test('where it was said how many digits follow the point, a point moved is told and nothing is read', () => {
  const display = shown('12.34', 3, true);
  expect(readField(net, display, whole(display), 2)).toMatchObject({ text: '12.34', decimals: 2 });
  expect(readField(net, display, whole(display), 1)).toBe('point-elsewhere');
  expect(readField(net, display, whole(display), 7)).toBe('point-elsewhere');
});
