import { seededRandom, shippedProfile } from '@umbral/core';
import { recogniseFaults } from './recognition.ts';

// How many are named as their start-up is, is judged by `npm run evaluate -- --patterns N`.
test('the same seed gives the same table', () => {
  const make = () =>
    recogniseFaults(
      shippedProfile('generic-laptop')!,
      'logger, 20 a second, 1 mA',
      'no markers',
      seededRandom(3),
      (k) => k % 40 === 0,
    );
  const made = make();
  expect(make()).toEqual(made);
  expect(made.length).toBeGreaterThan(5);
  for (const { expectedP } of made) expect(expectedP).toBeLessThanOrEqual(1);
});
