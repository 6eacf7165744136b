import { shippedNetwork } from '../display/index.ts';
import { compareClassifiers, filmDisplay } from './index.ts';

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
