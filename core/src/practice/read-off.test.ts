import fc from 'fast-check';
import { readTypedRun } from '../formats/index.ts';
import { neverShown } from './read-off.ts';

const levels = fc.array(fc.double({ min: 0.05, max: 4, noNaN: true }), { minLength: 1, maxLength: 5 });
/** Each level stands for two samples. */
const read = (values: readonly number[]) => ({ i: Float32Array.from(values.flatMap((value) => [value, value])) });

test('what was on the display can be read off it, within a digit that moves', () => {
  fc.assert(
    fc.property(levels, fc.double({ min: 0.9, max: 1.1, noNaN: true }), (shown, slip) => {
      expect(neverShown(read(shown.map((amps) => amps * slip)), shown)).toBeNull();
    }),
  );
});

test('a level that stands far from all that was shown is named', () => {
  fc.assert(
    fc.property(levels, (shown) => {
      const typed = Math.max(...shown) * 1000;
      expect(neverShown(read([shown[0], typed]), shown)).toBe(Math.fround(typed));
    }),
  );
});

test('a line as it is typed is held against it, and what was not read is not', () => {
  const { trace } = readTypedRun('battery 3.85V limit 2A: 0 | prompt 0.4 hold', 'r1');
  expect(neverShown(trace, [0, 0.41])).toBeNull();
  expect(neverShown(trace, [0, 0.9])).toBeCloseTo(0.4, 6);
  expect(neverShown({ i: Float32Array.of(NaN, NaN) }, [0.2])).toBeNull();
});
