import type { SheetEntry } from '@/server/work/day/sheet';
import { draggedOrder, passedHazards, sheetFilters } from './filters';

const entry = (next: Partial<SheetEntry['next']>): Pick<SheetEntry, 'next'> => ({
  next: { minutes: 10, depth: 0, uses: [], ...next } as SheetEntry['next'],
});

test('a gap of a quarter of an hour, and hands that are wet', () => {
  expect(sheetFilters.short.fits(entry({ minutes: 15 }))).toBe(true);
  expect(sheetFilters.short.fits(entry({ minutes: 16 }))).toBe(false);
  expect(sheetFilters.wet.fits(entry({}))).toBe(true);
  expect(sheetFilters.wet.fits(entry({ uses: ['meter'] }))).toBe(false);
  expect(sheetFilters.wet.fits(entry({ depth: 2 }))).toBe(false);
});

test('what is dragged stands where it was let go, and what was above it stays above it', () => {
  expect(draggedOrder([1, 2, 3, 4], 4, 2)).toEqual([1, 4]);
  expect(draggedOrder([1, 2, 3, 4], 1, 3)).toEqual([2, 3, 1]);
  expect(draggedOrder([1, 2, 3], 9, 1)).toEqual([]);
});

test('a job that is moved before one with a hazard is told so, and no other move is', () => {
  const hazard = (id: number): boolean => id === 2;
  const order = [1, 2, 3, 4];
  expect(passedHazards(order, draggedOrder(order, 4, 1), hazard)).toEqual([2]);
  expect(passedHazards(order, draggedOrder(order, 4, 3), hazard)).toEqual([]);
  expect(passedHazards(order, draggedOrder(order, 2, 1), hazard)).toEqual([]);
  expect(passedHazards(order, draggedOrder(order, 1, 4), hazard)).toEqual([]);
});
