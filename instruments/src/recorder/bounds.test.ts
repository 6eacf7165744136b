import fc from 'fast-check';
import { withinBounds } from './bounds.ts';

const bench = { mostV: 24, mostA: 5 };
const positive = fc.double({ min: 0.001, max: 1000, noNaN: true });

test('what is within both bounds is armed as it was asked for, without a word', () =>
  expect(withinBounds(3.85, 2, { mostV: 4.4, mostA: 3, why: 'full battery' }, bench)).toEqual({
    volts: 3.85,
    limitA: 2,
    clamped: '',
  }));

test('what is beyond is cut, and whose bound it was is said', () => {
  const device = withinBounds(12, 1, { mostV: 4.4, mostA: 3, why: 'full battery' }, bench);
  expect(device).toEqual({ volts: 4.4, limitA: 1, clamped: '12 V cut to 4.4 V: full battery' });
  const own = withinBounds(40, 9, { mostV: 60, mostA: 20, why: 'none' }, bench);
  expect(own.clamped).toBe('40 V cut to 24 V: the bench allows no more; 9 A cut to 5 A: the bench allows no more');
});

test('nothing that is armed is above what was asked for, the device, or the bench; a cut is never silent', () => {
  fc.assert(
    fc.property(positive, positive, positive, positive, (volts, limitA, mostV, mostA) => {
      const armed = withinBounds(volts, limitA, { mostV, mostA, why: 'because' }, bench);
      expect(armed.volts).toBe(Math.min(volts, mostV, bench.mostV));
      expect(armed.limitA).toBe(Math.min(limitA, mostA, bench.mostA));
      expect(armed.clamped === '').toBe(armed.volts === volts && armed.limitA === limitA);
    }),
  );
});
