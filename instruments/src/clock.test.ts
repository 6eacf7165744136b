import fc from 'fast-check';
import { sleepOf, wallOf, type Clocks } from './clock.ts';

/** A computer whose clock can be set, and which can sleep. */
function computer() {
  const at = { steady: 5000, set: Date.parse('2026-03-29T00:59:00Z'), up: 900 };
  const clocks: Clocks = { steady: () => at.steady, set: () => at.set, up: () => at.up };
  return {
    clocks,
    at,
    pass: (seconds: number): void => {
      at.steady += 1000 * seconds;
      at.set += 1000 * seconds;
      at.up += seconds;
    },
    sleep: (seconds: number): void => {
      at.set += 1000 * seconds;
      at.up += seconds;
    },
    setBy: (seconds: number): void => {
      at.set += 1000 * seconds;
    },
  };
}

test('a clock that is set an hour either way is followed, and is no sleep', () => {
  for (const hours of [1, -1]) {
    const { clocks, at, pass, setBy } = computer();
    const [wall, slept] = [wallOf(clocks), sleepOf(clocks, 4)];
    pass(10);
    setBy(3600 * hours);
    pass(1);
    expect(wall().getTime()).toBe(at.set);
    expect(slept()).toBe(0);
  }
});

test('small corrections of the clock do not move the time that recordings are stamped with', () => {
  const { clocks, at, setBy, pass } = computer();
  const wall = wallOf(clocks);
  const before = at.set;
  setBy(0.9);
  pass(1);
  expect(wall().getTime()).toBe(before + 1000);
});

test('a sleep is told by its length, once, and the time is right after it', () => {
  const { clocks, at, pass, sleep } = computer();
  const [wall, slept] = [wallOf(clocks), sleepOf(clocks, 4)];
  pass(60);
  expect(slept()).toBe(0);
  sleep(7200);
  pass(1);
  expect(slept()).toBeCloseTo(7200, 6);
  expect(slept()).toBe(0);
  expect(wall().getTime()).toBe(at.set);
});

test('whatever happens, time and sleep are told within two seconds', () => {
  const event = fc.record({
    kind: fc.constantFrom('pass', 'sleep', 'set'),
    seconds: fc.integer({ min: 1, max: 90_000 }),
  });
  fc.assert(
    fc.property(fc.array(event, { maxLength: 30 }), (events) => {
      const { clocks, at, pass, sleep, setBy } = computer();
      const [wall, slept] = [wallOf(clocks), sleepOf(clocks, 4)];
      for (const { kind, seconds } of events) {
        if (kind === 'pass') pass(seconds);
        else if (kind === 'sleep') sleep(seconds);
        else setBy(seconds % 2 ? seconds : -seconds);
        const told = slept();
        expect(told).toBeCloseTo(kind === 'sleep' && seconds >= 4 ? seconds : 0, 6);
        expect(Math.abs(wall().getTime() - at.set)).toBeLessThanOrEqual(2000);
      }
    }),
  );
});
