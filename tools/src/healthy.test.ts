import fc from 'fast-check';
import {
  readTypedRun,
  shippedPopulations,
  seededRandom,
  unknownInstrument,
  type Trace,
  shippedProfile,
  usualSetup,
  type TwinSetup,
} from '@umbral/core';
import { countHealthy, healthyInstruments, typedDigest } from './healthy.ts';

// How many healthy starts are called healthy is judged by `npm run evaluate -- --healthy N`.
test('starts are counted through every instrument; the same seed gives the same counts', () => {
  const [population] = shippedPopulations;
  const profile = shippedProfile(population.profiles[0])!;
  const count = () => countHealthy(population, profile, { devices: 48, faults: 200 }, seededRandom(5));
  const counts = count();
  expect(count()).toEqual(counts);
  expect(new Set(counts.map((c) => c.instrument))).toEqual(new Set(healthyInstruments));
  for (const c of counts) {
    expect(c.healthyRight + c.instead.reduce((n, [, often]) => n + often, 0)).toBe(c.healthy);
    expect(c.faultyMissed).toBeLessThanOrEqual(c.faulty);
  }
});

describe('what somebody types of a display', () => {
  const trace = (amps: number[]): Trace => ({
    t: Float64Array.from(amps, (_, k) => k / 2),
    v: Float32Array.from(amps, () => 4),
    i: Float32Array.from(amps),
    quantity: 'current',
    feed: 'battery',
    instrument: { ...unknownInstrument, rateHz: 2 },
    limitA: 3,
    setV: 4,
    limitSpans: [],
  });
  const setup: TwinSetup = { ...usualSetup, setV: 4, onS: 0, promptS: 4 };

  test('can be read, has one number before power-on and three to eight after it, and the highest among them', () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 1, max: 250 }), { minLength: 20, maxLength: 60 }),
        fc.nat(1e6),
        (hundredths, seed) => {
          const amps = [...Array.from({ length: 8 }, () => 0), ...hundredths.map((x) => x / 100)];
          const line = typedDigest(trace(amps), setup, seededRandom(seed))!;
          expect(() => readTypedRun(line, 'r1')).not.toThrow();
          const [before, after] = line.split(': ')[1].split(' | prompt ');
          expect(before).toBe('0');
          const numbers = after.replace(' hold', '').split(' ').map(Number);
          expect(numbers.length).toBeGreaterThanOrEqual(3);
          expect(numbers.length).toBeLessThanOrEqual(8);
          // What flows at the instant of the press is not seen yet. The last glance comes from the last tenth; what came before it is noted where it is highest.
          const noted = Math.max(...amps.slice(9, Math.floor(amps.length * 0.85)));
          expect(Math.max(...numbers)).toBeGreaterThanOrEqual(Number(noted.toFixed(2)));
        },
      ),
    );
  });

  test('is nothing where nothing was shown after power-on', () => {
    expect(typedDigest(trace(Array.from({ length: 9 }, () => 0)), setup, seededRandom(1))).toBeNull();
  });
});
