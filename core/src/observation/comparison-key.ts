import type { Run } from '../case/index.ts';

/** Everything of a setup but the named parts, as a key. */
export function keyWithout(run: Run, parts: readonly (keyof Run['setup'])[]): string {
  const { setV: _v, limitA: _l, temperatureC: _t, batteryV: _b, extra: _x, ...rest } = run.setup;
  const kept = Object.entries({ ...rest, port: rest.port ?? 1 }).filter(
    ([key]) => !parts.includes(key as keyof Run['setup']),
  );
  return JSON.stringify([run.feed, run.quantity, kept]);
}
