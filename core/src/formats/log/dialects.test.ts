import fc from 'fast-check';
import { anyDialect, anyReadings, writeDialect } from '../../testing/dialects.ts';
import { readLog } from './index.ts';

test('any dialect of an instrument gives the numbers that it was written from', () => {
  fc.assert(
    fc.property(anyDialect, anyReadings, (dialect, readings) => {
      // Without units a log of a few milliamperes can be read either way; sizes tell only where something large flows.
      const largest = Math.max(...readings.rows.map((r) => r.i));
      fc.pre(dialect.unitsIn !== 'nowhere' || largest > 0.1);
      const rows: [number, number, number][] = [];
      const log = readLog(writeDialect(dialect, readings), (t, v, i) => rows.push([t, v, i]));
      expect(log.warnings).toEqual([]);
      expect(rows).toHaveLength(readings.rows.length);
      rows.forEach(([t, v, i], k) => {
        expect(t).toBeCloseTo(k * readings.stepS, 3);
        expect(v).toBeCloseTo(readings.rows[k].v, 4);
        expect(i).toBeCloseTo(readings.rows[k].i, 5);
      });
    }),
    { numRuns: 800 },
  );
});
