import { wilsonInterval } from '@umbral/core';
import { percentagesHold } from './holds';

const of = (hits: number, n: number, said: number | null) =>
  percentagesHold({ first: { value: wilsonInterval(hits, n), counted: 'first', jobs: hits }, said });

test('what was said is held against how often it was so, with room for chance', () => {
  expect(of(15, 20, 0.7)).toBe('holds');
  expect(of(8, 20, 0.9)).toBe('too-much');
  expect(of(19, 20, 0.4)).toBe('too-little');
});

test('a few calls tell nothing', () => {
  expect(of(0, 9, 0.9)).toBe('too-few');
  expect(of(12, 20, null)).toBe('too-few');
});
