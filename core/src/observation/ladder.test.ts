import * as fc from 'fast-check';
import { ladderOf } from './ladder.ts';
import rules from './readings.json';

const rows = fc
  .array(fc.double({ min: 0.02, max: 0.985, noNaN: true }), { minLength: 8, maxLength: 8 })
  .map((list) => list.sort((a, b) => b - a));

const standing = ({ broken, stands }: ReturnType<typeof ladderOf>, step: number): number =>
  broken.reduce((sum, p, b) => sum + p * stands[step][b], 0);

test('the path is broken at one place or none', () => {
  fc.assert(
    fc.property(rows, fc.double({ min: 0, max: 1, noNaN: true }), (row, runs) => {
      const { broken, stands } = ladderOf(row, runs);
      expect(broken.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 9);
      for (const p of [...broken, ...stands.flat()]) expect(p >= -1e-9 && p <= 1).toBe(true);
    }),
  );
});

test('a row of the table is what the ladder gives back', () => {
  for (const [circuit, row] of Object.entries(rules.standing))
    row.forEach((p, step) => {
      const given = standing(ladderOf(row, 0), step);
      expect([circuit, step, Math.abs(given - p) < 0.05]).toEqual([circuit, step, true]);
    });
});

test('with the main rail standing on another feed, what hangs on it stands or falls with it', () => {
  const { broken, stands } = ladderOf(rules.standing['input.protection'], 0);
  const [main, always] = [rules.columns.indexOf('main'), rules.columns.indexOf('always')];
  const both = broken.reduce((sum, p, b) => sum + p * stands[main][b] * stands[always][b], 0);
  expect(both / standing({ broken, stands }, main)).toBeGreaterThan(0.9);
});

test('where the complaint says that it runs, every step stands', () => {
  const ladder = ladderOf(rules.standing['rail.main'], 0.8);
  expect(standing(ladder, rules.columns.length - 1)).toBeGreaterThan(0.75);
});
