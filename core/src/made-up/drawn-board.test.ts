import { shippedProfiles } from '../twin/index.ts';
import { drawBoard, drawHeat } from './drawn-board.ts';

const full = shippedProfiles.filter((p) => !p.generic);

test.each(full.map((p) => [p.id, p] as const))('%s has a drawn board with a point for every rail', (_, profile) => {
  const board = drawBoard(profile, 7);
  for (const rail of profile.rails) expect(board.points.filter((p) => p.net === rail.id).length).toBeGreaterThan(1);
  for (const { x, y } of board.points) {
    expect(x).toBeGreaterThan(0);
    expect(x).toBeLessThan(1);
    expect(y).toBeGreaterThan(0);
    expect(y).toBeLessThan(board.height / board.width);
  }
  // No two points at one place: a probe that is put on one is not on another.
  for (const [k, a] of board.points.entries())
    for (const b of board.points.slice(k + 1)) expect(Math.hypot(a.x - b.x, a.y - b.y)).toBeGreaterThan(0.01);
});

test('the same board for the same seed, another for another', () => {
  expect(drawBoard(full[0], 7)).toEqual(drawBoard(full[0], 7));
  expect(drawBoard(full[0], 8).svg).not.toBe(drawBoard(full[0], 7).svg);
});

test('heat is brightest where it is said to be', () => {
  const board = drawBoard(full[0], 7);
  const svg = drawHeat(board, { x: 0.25, y: 0.2 });
  expect(svg).toContain(`cx="${0.25 * board.width}" cy="${0.2 * board.width}"`);
});
