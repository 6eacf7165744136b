import { uptime } from 'node:os';

/** Seconds on a clock that only goes forward, and how many of them pass in a second of the wall's. */
interface BenchClock {
  now(): number;
  factor: number;
}

/**
 * The clock of a bench. A simulated one can be let run faster than time, and the recorder with it, so that tests and
 * practice do not wait for a device to start; real instruments keep real time.
 *
 * @param stated `UMBRAL_TIME_FACTOR`; left out for real time
 * @throws {RangeError} for what is no number from 1 to 20
 */
export function benchClock(stated = process.env.UMBRAL_TIME_FACTOR): BenchClock {
  const factor = stated === undefined || stated === '' ? 1 : Number(stated);
  if (!(factor >= 1 && factor <= 20))
    throw new RangeError(`UMBRAL_TIME_FACTOR is "${stated}"; expected a number from 1 to 20`);
  return { now: () => (factor * performance.now()) / 1000, factor };
}

/** What tells time in different ways; passed in, so that tests can let a clock jump or a computer sleep. */
export interface Clocks {
  /** Never going back, standing still while the computer sleeps. Milliseconds. */
  steady: () => number;
  /** As the computer's clock is set, milliseconds since 1970. */
  set: () => number;
  /** Since the computer was started, sleep included. Seconds. */
  up: () => number;
}

export const ownClocks: Clocks = { steady: () => performance.now(), set: () => Date.now(), up: () => uptime() };

/** The clock was set, or the computer slept: smaller differences are those of two clocks that both are right. */
const jumpMs = 2000;

/**
 * The time as a date that runs evenly, and follows the computer's clock where that is set or the computer slept.
 *
 * @example const wall = wallOf(ownClocks); wall() // now
 */
export function wallOf({ steady, set }: Clocks): () => Date {
  let began = set() - steady();
  return () => {
    const even = began + steady();
    if (Math.abs(set() - even) <= jumpMs) return new Date(even);
    began = set() - steady();
    return new Date(began + steady());
  };
}

/**
 * How long the computer slept since this was asked last, seconds; 0 where it did not. A clock that is set is no sleep.
 *
 * @param minS what counts as sleep
 */
export function sleepOf({ steady, up }: Clocks, minS: number): () => number {
  let before = up() - steady() / 1000;
  return () => {
    const now = up() - steady() / 1000;
    const slept = now - before;
    before = now;
    return slept >= minS ? slept : 0;
  };
}
