import fc from 'fast-check';
import { Outline } from './outline.ts';
import { Recent } from './recent.ts';

describe('the outline of a run that goes on', () => {
  test('stays bounded, and keeps its highest current, however long it goes on', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 20_000 }), fc.double({ min: 0.001, max: 0.5, noNaN: true }), (n, step) => {
        const shape = new Outline();
        const peakAt = Math.floor(n / 3);
        for (let k = 0; k < n; k++) shape.add(k * step, k === peakAt ? 2 : 0.1, 3.9);
        const levels = shape.levels();
        expect(levels.length).toBeLessThanOrEqual(480);
        expect(levels.length * shape.width).toBeGreaterThan((n - 1) * step);
        expect(Math.max(...levels.map((x) => x ?? 0))).toBeGreaterThan(1);
        expect(shape.voltLevels().every((v) => v === null || Math.abs(v - 3.9) < 1e-9)).toBe(true);
        expect(shape.end).toBeCloseTo((n - 1) * step, 9);
      }),
      { numRuns: 40 },
    );
  });

  test('a stretch without a sample keeps the one before; before the first there is none', () => {
    const shape = new Outline();
    shape.add(0.12, 0.5, NaN);
    shape.add(0.31, NaN, 5);
    expect(shape.levels()).toEqual([null, null, 0.5, 0.5, 0.5, 0.5, 0.5]);
    // A voltage is not carried on: where none was read none is drawn.
    expect(shape.voltLevels()).toEqual([null, null, null, null, null, null, 5]);
  });

  test('one that goes on from what another had seen is the same', () => {
    const whole = new Outline();
    const first = new Outline();
    for (let k = 0; k < 700; k++) for (const o of [whole, first]) o.add(k * 0.05, k % 7, k % 3);
    const second = Outline.from(JSON.parse(JSON.stringify(first.state)));
    for (let k = 700; k < 1500; k++) for (const o of [whole, second]) o.add(k * 0.05, k % 5, k % 4);
    expect(second.state).toEqual(whole.state);
  });
});

describe('the last samples', () => {
  test('come back as they were added, or not at all where some are forgotten', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 50 }), fc.nat(200), fc.nat(210), (room, count, row) => {
        const recent = new Recent(room);
        for (let k = 0; k < count; k++) recent.add(k, k / 2, k / 4);
        const block = recent.since(row);
        if (row > count || count - row > room) return expect(block).toBeNull();
        expect(Array.from(block!.t)).toEqual(Array.from({ length: count - row }, (_, k) => row + k));
        expect(Array.from(block!.i)).toEqual(Array.from({ length: count - row }, (_, k) => (row + k) / 4));
      }),
    );
  });
});
