import fc from 'fast-check';
import { addedShare, movedShare, withoutShare, type Share } from './shares';

const sum = (shares: readonly Share[]): number => shares.reduce((total, s) => total + s.percent, 0);
/** Some circuits that sum to 100. */
const calls = fc
  .array(fc.integer({ min: 0, max: 100 }), { minLength: 2, maxLength: 8 })
  .map((list) => list.reduce<Share[]>((shares, to, k) => movedShare(addedShare(shares, `c${k}`), k, to), []));

test('whatever is moved, all stay whole percentages that sum to 100', () => {
  fc.assert(
    fc.property(calls, fc.nat(), fc.integer({ min: -50, max: 150 }), (shares, nth, to) => {
      const after = movedShare(shares, nth % shares.length, to);
      expect(sum(after)).toBe(100);
      for (const s of after) expect(Number.isInteger(s.percent) && s.percent >= 0 && s.percent <= 100).toBe(true);
      expect(after[nth % shares.length].percent).toBe(Math.min(100, Math.max(0, to)));
    }),
  );
});

test('the others keep their proportions; where they have none they share alike', () => {
  const three = [
    { circuit: 'a', percent: 50 },
    { circuit: 'b', percent: 30 },
    { circuit: 'c', percent: 20 },
  ];
  expect(movedShare(three, 0, 0).map((s) => s.percent)).toEqual([0, 60, 40]);
  expect(movedShare(movedShare(three, 0, 100), 0, 40).map((s) => s.percent)).toEqual([40, 30, 30]);
});

test('the first has all, the next nothing yet, and nobody is named twice', () => {
  const two = addedShare(addedShare([], 'a'), 'b');
  expect(two).toEqual([
    { circuit: 'a', percent: 100 },
    { circuit: 'b', percent: 0 },
  ]);
  expect(addedShare(two, 'a')).toEqual(two);
});

test('what is taken out leaves its share to the others', () => {
  fc.assert(
    fc.property(calls, fc.nat(), (shares, nth) => {
      const after = withoutShare(shares, nth % shares.length);
      expect(after).toHaveLength(shares.length - 1);
      expect(sum(after)).toBe(100);
    }),
  );
  expect(withoutShare([{ circuit: 'a', percent: 100 }], 0)).toEqual([]);
});
