import fc from 'fast-check';
import { currentTicks, timeTicks } from './plot';

test('what is written beside a run are round levels within it, one above the other, a few at most', () => {
  expect(currentTicks(1.2)).toEqual([0.1, 0.2, 0.5, 1]);
  fc.assert(
    fc.property(fc.double({ min: 0.001, max: 50, noNaN: true }), (highest) => {
      const ticks = currentTicks(highest);
      expect(ticks.length).toBeGreaterThan(0);
      expect(ticks.length).toBeLessThanOrEqual(4);
      expect([...ticks].sort((a, b) => a - b)).toEqual(ticks);
      expect(ticks.at(-1)).toBeLessThanOrEqual(1.02 * highest);
    }),
  );
});

test('instants under a run that grows are round, few, and within it, however long it takes', () => {
  expect(timeTicks(20).map((x) => x.says)).toEqual(['0 s', '5 s', '10 s', '15 s', '20 s']);
  expect(timeTicks(300).map((x) => x.says)).toEqual(['0 min', '1 min', '2 min', '3 min', '4 min', '5 min']);
  fc.assert(
    fc.property(fc.double({ min: 1, max: 200_000, noNaN: true }), (seconds) => {
      const ticks = timeTicks(seconds);
      expect(ticks.length).toBeLessThanOrEqual(9);
      expect(ticks.every(({ t }, k) => t <= seconds && (k === 0 || t > ticks[k - 1].t))).toBe(true);
      expect(new Set(ticks.map((x) => x.says)).size).toBe(ticks.length);
    }),
  );
});
