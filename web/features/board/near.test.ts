import fc from 'fast-check';
import { isWay, movedBy, nextTowards } from './near';

const place = fc.record({
  x: fc.double({ min: 0, max: 1, noNaN: true }),
  y: fc.double({ min: 0, max: 0.8, noNaN: true }),
});
const way = fc.constantFrom('ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown');

test('an arrow goes that way, never back or to where it came from', () => {
  fc.assert(
    fc.property(fc.array(place, { maxLength: 30 }), place, way, (points, from, to) => {
      const next = nextTowards(points, from, to);
      if (!next) return;
      const [dx, dy] = [next.x - from.x, next.y - from.y];
      expect({ ArrowLeft: -dx, ArrowRight: dx, ArrowUp: -dy, ArrowDown: dy }[to]).toBeGreaterThan(0);
    }),
  );
});

test('in a grid of points every one is reached with arrows', () => {
  const grid = Array.from({ length: 30 }, (_, k) => ({ x: (k % 6) / 6, y: Math.floor(k / 6) / 6 }));
  const reached = new Set([grid[0]]);
  for (const from of reached)
    for (const key of ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'] as const) {
      const to = nextTowards(grid, from, key);
      if (to) reached.add(to);
    }
  expect(reached.size).toBe(grid.length);
});

test('the nearest in that direction, rather ahead than beside', () => {
  const ahead = { x: 0.7, y: 0.5 };
  expect(nextTowards([{ x: 0.6, y: 0.65 }, ahead], { x: 0.5, y: 0.5 }, 'ArrowRight')).toBe(ahead);
  expect(nextTowards([ahead], { x: 0.5, y: 0.5 }, 'ArrowLeft')).toBeNull();
});

test('what is moved by keys stays on the board, however long a key is held', () => {
  fc.assert(
    fc.property(place, fc.array(fc.tuple(way, fc.boolean()), { maxLength: 200 }), (from, keys) => {
      const end = keys.reduce((at, [key, isCoarse]) => movedBy(at, key, isCoarse, 0.8), from);
      expect(Math.min(end.x, end.y)).toBeGreaterThanOrEqual(0);
      expect(end.x).toBeLessThanOrEqual(1);
      expect(end.y).toBeLessThanOrEqual(0.8);
    }),
  );
});

test('other keys are no way', () => expect(['Enter', 'toString', 'a'].some(isWay)).toBe(false));
