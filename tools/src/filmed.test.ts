import { shippedNetwork } from '@umbral/core/display';
import { seededRandom } from '@umbral/core';
import { compareClassifiers, filmDisplay, filmedKinds, filmFile, filmPattern, filmTrace } from './index.ts';

let clock = 0;
const film = (seed: number) => filmDisplay(shippedNetwork(), 'familiar', seed, 5, () => clock++);

test('every picture of both numbers is counted once: accepted, or absent with its reason', () => {
  for (const seed of [11, 12]) {
    const { pictures, accepted, right, doubts, wrong, pointWrong } = film(seed);
    // The last picture waits for the next.
    expect(pictures).toBe(8);
    expect(accepted + Object.values(doubts).reduce((a, b) => a + b, 0)).toBe(pictures);
    expect(right + wrong.length).toBe(accepted);
    expect(pointWrong).toBeLessThanOrEqual(wrong.length);
  }
});

test('the same seed is filmed and read the same, and the clock only says how long it took', () => {
  const { readMs, ...first } = film(13);
  const { readMs: again, ...second } = film(13);
  expect(second).toEqual(first);
  expect([readMs, again]).toEqual([0.5, 0.5]);
});

test('the network tells at least as many characters of seven segments as their lit segments do', () => {
  const { characters, network, segments } = compareClassifiers(shippedNetwork(), 3000, 12);
  expect(characters).toBeGreaterThan(20);
  expect(network).toBeGreaterThanOrEqual(segments);
  expect(segments).toBeGreaterThan(characters / 2);
});

test.each(filmedKinds)('a run of the kind %s is filmed and read into samples in order', (kind) => {
  const seen = filmPattern(shippedNetwork(), 'familiar', kind, 41, 1);
  expect(seen.kind).toBe(kind);
  expect(seen.samples).toBeGreaterThan(0);
  expect(seen.doubtShare).toBeGreaterThanOrEqual(0);
  expect(seen.doubtShare).toBeLessThanOrEqual(1);
});

test('a film is a heading, and for each picture its brightness and no colour', () => {
  const trace = { t: Float64Array.of(0, 1), v: Float32Array.of(5, 5), i: Float32Array.of(0.5, 0.5) };
  const video = () => filmTrace('familiar', trace as Parameters<typeof filmTrace>[1], 0, seededRandom(3), [15]);
  const [heading, frame, picture, ...rest] = filmFile(video(), 2 / 15);
  expect(new TextDecoder().decode(heading)).toBe('YUV4MPEG2 W640 H480 F15:1 Ip A1:1 C420jpeg\n');
  expect(new TextDecoder().decode(frame)).toBe('FRAME\n');
  expect(picture).toHaveLength((640 * 480 * 3) / 2);
  expect(new Set(picture.slice(640 * 480))).toEqual(new Set([128]));
  expect(rest).toHaveLength(2);
  const [, , turned] = filmFile(video(), 1 / 15, true);
  expect([...turned.slice(0, 640)].reverse()).toEqual([...picture.slice(0, 640)]);
});
