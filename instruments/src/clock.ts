/** Seconds on a clock that only goes forward, and how many of them pass in a second of the wall's. */
export interface BenchClock {
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
