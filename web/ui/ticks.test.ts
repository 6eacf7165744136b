import fc from 'fast-check';
import { currentTicks, nameLines, timeTicks, voltTicks } from './ticks';

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

test('names under a run never overprint, and stand on the first line that is free', () => {
  const two = [
    { share: 0.1, says: 'output on' },
    { share: 0.12, says: 'power pressed' },
    { share: 0.6, says: 'part off: speaker board' },
  ];
  expect(nameLines(two, 640)).toEqual([0, 1, 0]);
  const name = fc.record({ share: fc.double({ min: 0, max: 1, noNaN: true }), says: fc.string({ maxLength: 30 }) });
  fc.assert(
    fc.property(fc.array(name, { maxLength: 20 }), fc.integer({ min: 200, max: 1600 }), (names, width) => {
      const inOrder = [...names].sort((a, b) => a.share - b.share);
      const lines = nameLines(inOrder, width);
      for (const [k, line] of lines.entries())
        for (let j = 0; j < k; j++)
          if (lines[j] === line)
            expect(inOrder[j].share * width + 7.4 * inOrder[j].says.length).toBeLessThanOrEqual(
              inOrder[k].share * width,
            );
    }),
  );
});

test('a voltage fits under the top of its scale, which is round', () => {
  expect(voltTicks(3.9)).toEqual([2.5, 5]);
  fc.assert(
    fc.property(fc.double({ min: 0, max: 60, noNaN: true }), (v) => {
      const [half, top] = voltTicks(v);
      expect(top).toBeGreaterThanOrEqual(v);
      expect(half).toBe(top / 2);
    }),
  );
});
