import fc from 'fast-check';
import { ClockMap } from './clock.ts';

describe('the clock of an instrument', () => {
  test('late lines stand where they were measured', () => {
    const clock = new ClockMap();
    const theirs = Array.from({ length: 200 }, (_, k) => 500 + k * 0.05);
    // Every line takes 5 ms at least, every tenth 300 ms.
    const mapped = theirs.map((t, k) => clock.map(t, t - 490 + (k % 10 === 9 ? 0.3 : 0.005)));
    mapped.slice(1).forEach((t, k) => expect(t - (theirs[k + 1] - 490)).toBeLessThan(0.006));
  });

  test('a clock that runs fast or slow is followed', () => {
    for (const rate of [0.999, 1.001]) {
      const clock = new ClockMap();
      for (let k = 0; k < 6000; k++) {
        const ours = k * 0.05;
        const at = clock.map(ours * rate, ours + 0.004);
        if (k > 100) expect(Math.abs(at - ours)).toBeLessThan(0.05);
      }
    }
  });

  test('a clock that starts again at nothing is followed', () => {
    const clock = new ClockMap();
    for (let k = 0; k < 100; k++) clock.map(1000 + k, k);
    expect(clock.map(0, 101)).toBeCloseTo(101, 3);
    expect(clock.map(1, 102)).toBeCloseTo(102, 3);
  });

  test('never after the arrival, never back', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.double({ min: 0.001, max: 2, noNaN: true }), fc.double({ min: 0, max: 3, noNaN: true }))),
        (steps) => {
          const clock = new ClockMap();
          let [theirs, ours, last] = [0, 0, -Infinity];
          for (const [step, late] of steps) {
            theirs += step;
            ours = Math.max(ours, theirs + late);
            const at = clock.map(theirs, ours);
            expect(at).toBeLessThanOrEqual(ours + 1e-9);
            expect(at).toBeGreaterThanOrEqual(last);
            last = at;
          }
        },
      ),
    );
  });
});
