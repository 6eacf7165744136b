import fc from 'fast-check';
import { withinBounds } from './bounds.ts';

const bench = { maxV: 24, maxA: 5 };
const positive = fc.double({ min: 0.001, max: 1000, noNaN: true });

test('what is within both bounds is armed as it was asked for, without a word', () =>
  expect(withinBounds(3.85, 2, { maxV: 4.4, maxA: 3, why: 'full battery' }, bench)).toEqual({
    volts: 3.85,
    limitA: 2,
    clamped: '',
  }));

test('what is beyond is cut, and whose bound it was is said', () => {
  const device = withinBounds(12, 1, { maxV: 4.4, maxA: 3, why: 'full battery' }, bench);
  expect(device).toEqual({ volts: 4.4, limitA: 1, clamped: '12 V cut to 4.4 V: full battery' });
  const own = withinBounds(40, 9, { maxV: 60, maxA: 20, why: 'none' }, bench);
  expect(own.clamped).toBe('40 V cut to 24 V: the bench limit; 9 A cut to 5 A: the bench limit');
});

test('nothing that is armed is above what was asked for, the device, or the bench; a cut is never silent', () => {
  fc.assert(
    fc.property(positive, positive, positive, positive, (volts, limitA, maxV, maxA) => {
      const armed = withinBounds(volts, limitA, { maxV, maxA, why: 'because' }, bench);
      expect(armed.volts).toBe(Math.min(volts, maxV, bench.maxV));
      expect(armed.limitA).toBe(Math.min(limitA, maxA, bench.maxA));
      expect(armed.clamped === '').toBe(armed.volts === volts && armed.limitA === limitA);
    }),
  );
});
