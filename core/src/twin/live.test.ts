import fc from 'fast-check';
import { LiveDevice, parseFault, shippedProfile, shippedProfiles, type OperatorAct, type Profile } from './index.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? shippedProfiles[0];
const phone = profileOf('tallgate-moorcall-2');
const laptop = profileOf('oxbarrow-hearthfold-13');
const live = (profile: Profile, fault = 'none') => new LiveDevice(profile, [parseFault(profile, fault)], 7);
const onBench = { feed: 'battery', on: true, setV: 3.85, limitA: 3 } as const;
const mean = (
  d: LiveDevice,
  from: number,
  to: number,
  of = (r: ReturnType<LiveDevice['at']>) => r.supply.amps,
): number => {
  let sum = 0;
  for (let k = 0; k < 100; k++) sum += of(d.at(from + (k * (to - from)) / 100));
  return sum / 100;
};

describe('a device that is watched while hands work on it', () => {
  test('nothing flows before the output is on; little before power-on; a start after it', () => {
    const d = live(phone);
    expect(d.at(0)).toEqual({
      supply: { volts: 0, amps: 0, mode: 'off' },
      port: { volts: 0, amps: 0, contractV: 0 },
    });
    d.feed(onBench, 1);
    expect(d.at(2).supply).toMatchObject({ volts: 3.85, mode: 'cv' });
    expect(mean(d, 2, 4)).toBeLessThan(0.01);
    d.act({ does: 'press' }, 5);
    expect(mean(d, 7, 12)).toBeGreaterThan(0.1);
    expect(d.seen(40).running).toBe(true);
    expect(d.seen(40).screen).toBe('image');
  });

  test('a press does nothing while it already starts, and starts it again after it gave up', () => {
    const d = live(phone, 'mute:storage-chip');
    d.feed(onBench, 0);
    d.act({ does: 'press' }, 1);
    const held = mean(d, 10, 14);
    d.act({ does: 'press' }, 15);
    expect(mean(d, 20, 24)).toBeCloseTo(held, 2);
  });

  test('a hard short holds the supply in its limit', () => {
    const d = live(phone, 'short:main=0.05');
    d.feed(onBench, 0);
    const { supply } = d.at(2);
    expect(supply.mode).toBe('cc');
    expect(supply.amps).toBeCloseTo(3, 1);
    expect(supply.volts).toBeLessThan(0.6 * onBench.setV);
    d.feed({ ...onBench, limitA: 1 }, 3);
    expect(d.at(5).supply.amps).toBeCloseTo(1, 1);
    d.feed({ ...onBench, on: false }, 6);
    expect(d.at(7).supply).toEqual({ volts: 0, amps: 0, mode: 'off' });
  });

  test('plugging makes a contract, and the supply in the battery’s place gives no more than before', () => {
    const d = live(laptop);
    d.act({ does: 'plug', port: 1, flipped: false }, 0);
    expect(d.at(3).port.contractV).toBe(20);
    expect(d.at(3).port.volts).toBeGreaterThan(19);
    d.act({ does: 'unplug' }, 4);
    expect(d.at(5).port).toEqual({ volts: 0, amps: 0, contractV: 0 });
  });

  test('the supply and the port together: the port feeds it, the supply rests', () => {
    const d = live(phone);
    d.feed(onBench, 0);
    d.act({ does: 'press' }, 1);
    expect(mean(d, 30, 35)).toBeGreaterThan(0.05);
    d.act({ does: 'plug', port: 1, flipped: false }, 40);
    expect(d.seen(45).running).toBe(true);
    expect(mean(d, 45, 50)).toBeLessThan(0.02);
    expect(mean(d, 45, 50, (r) => r.port.amps)).toBeGreaterThan(0.05);
  });

  test('a fault on something that can be unplugged goes with it, while it runs', () => {
    const [part] = phone.peripherals;
    const d = live(phone, `short:${part.id}=20`);
    const sound = live(phone);
    for (const one of [d, sound]) {
      one.feed(onBench, 0);
      one.act({ does: 'press' }, 1);
    }
    const [sick, well] = [d, sound].map((one) => mean(one, 40, 44));
    expect(sick).toBeGreaterThan(well + 0.03);
    for (const one of [d, sound]) one.act({ does: 'take-off', id: part.id }, 45);
    expect(mean(d, 50, 54)).toBeCloseTo(mean(sound, 50, 54), 3);
    d.act({ does: 'put-back', id: part.id }, 55);
    expect(mean(d, 60, 64)).toBeGreaterThan(mean(sound, 50, 54) + 0.03);
  });

  test('what is missing is refused', () => {
    const d = live(phone);
    expect(() => d.act({ does: 'plug', port: 4, flipped: false }, 0)).toThrow('there is no port 4');
    expect(() => d.act({ does: 'take-off', id: 'main' }, 0)).toThrow('"main" cannot be unplugged');
  });

  test('the same hands and seed give the same currents; bursts differ with the seed', () => {
    const draw = (seed: number): number[] => {
      const d = new LiveDevice(phone, [], seed);
      d.feed(onBench, 0);
      d.act({ does: 'press' }, 1);
      return Array.from({ length: 60 }, (_, k) => d.at(1 + k * 0.25).supply.amps);
    };
    expect(draw(3)).toEqual(draw(3));
    expect(draw(3)).not.toEqual(draw(4));
  });

  test('after hours a restart loop still goes round', () => {
    const d = live(phone, 'mute:radio-chip');
    d.feed(onBench, 0);
    d.act({ does: 'press' }, 1);
    const values = Array.from({ length: 80 }, (_, k) => d.at(7200 + k * 0.5).supply.amps);
    expect(Math.max(...values)).toBeGreaterThan(3 * Math.max(Math.min(...values), 0.005));
  });

  test('whatever the hands do, no reading is absurd, and nothing goes beyond the limit', () => {
    const hand: fc.Arbitrary<OperatorAct> = fc.oneof(
      fc.constant<OperatorAct>({ does: 'press' }),
      fc.record({ does: fc.constant('plug' as const), port: fc.constant(1), flipped: fc.boolean() }),
      fc.constant<OperatorAct>({ does: 'unplug' }),
      fc.constantFrom<OperatorAct>(
        { does: 'take-off', id: phone.peripherals[0].id },
        { does: 'put-back', id: phone.peripherals[0].id },
      ),
      fc.boolean().map((connected): OperatorAct => ({ does: 'battery', connected })),
      fc.boolean().map((connected): OperatorAct => ({ does: 'display', connected })),
    );
    const supply = fc.record({
      feed: fc.constant('battery' as const),
      on: fc.boolean(),
      setV: fc.double({ min: 0, max: 5, noNaN: true }),
      limitA: fc.double({ min: 0.05, max: 5, noNaN: true }),
    });
    fc.assert(
      fc.property(
        fc.constantFrom('none', 'short:main=0.2', 'mute:radio-chip', 'short:memory=0.1', 'dead:charger'),
        fc.array(fc.tuple(fc.oneof(hand, supply), fc.double({ min: 0.05, max: 9, noNaN: true })), { maxLength: 8 }),
        (fault, acts) => {
          const d = live(phone, fault);
          let t = 0;
          let limitA = Infinity;
          for (const [act, wait] of acts) {
            if ('setV' in act) [limitA] = [act.limitA, d.feed(act, t)];
            else d.act(act, t);
            for (let k = 1; k <= 4; k++) {
              const r = d.at(t + (wait * k) / 4);
              for (const x of [r.supply.volts, r.supply.amps, r.port.volts, r.port.amps]) {
                expect(Number.isFinite(x)).toBe(true);
                expect(x).toBeGreaterThanOrEqual(-1e-9);
              }
              if (r.supply.mode !== 'off') expect(r.supply.amps).toBeLessThanOrEqual(limitA + 1e-9);
            }
            t += wait;
          }
        },
      ),
      { numRuns: 60 },
    );
  });
});
