import fc from 'fast-check';
import { seededRandom } from '../trace/index.ts';
import {
  compileProfile,
  formatFault,
  genericProfile,
  goodShare,
  heatOf,
  instrumentModels,
  instrumentOf,
  kindsAt,
  levelOf,
  makeWorkspace,
  parseFault,
  recordStartUp,
  shippedProfile,
  shippedProfiles,
  solveBoard,
  startUp,
  usualSetup,
  type Board,
  type Fault,
  type InstrumentName,
  type Profile,
  type StartUp,
  type TwinSetup,
} from './index.ts';
import { conditionOf } from './condition.ts';

const boards = new Map<string, Board>(shippedProfiles.map((p) => [p.id, compileProfile(p)]));
const boardOf = (id: string): Board => boards.get(id) ?? compileProfile(genericProfile('phone', false));
const start = (id: string, fault = 'none', setup: Partial<TwinSetup> = {}): StartUp => {
  const board = boardOf(id);
  return startUp(board, [parseFault(board.profile, fault)], { ...usualSetup, ...setup });
};
const at = (s: StartUp, t: number) =>
  s.segments.find((x) => x.t0 <= t && t < x.t1) ?? s.segments[s.segments.length - 1];
const feedOf = (p: Profile): TwinSetup['feed'] => (p.battery ? 'battery' : 'dc-in');

/** Any fault that an element of the profile can have. */
const anyFault = (profile: Profile): fc.Arbitrary<Fault> => {
  const ids = [
    ...profile.rails,
    ...profile.converters,
    ...profile.loads,
    ...profile.parts,
    ...profile.ports,
    ...profile.peripherals,
  ].map((x) => x.id);
  return fc
    .constantFrom(...ids)
    .chain((id) => fc.constantFrom(...kindsAt(profile, id)).map((kind) => parseFault(profile, `${kind}:${id}`)));
};
const anyShipped = fc.constantFrom(...shippedProfiles);

describe('physics', () => {
  test('every converter passes on its input times its efficiency', () => {
    fc.assert(
      fc.property(anyShipped, fc.nat(20), (profile, pick) => {
        const board = boardOf(profile.id);
        const { condition, sourceV } = conditionOf(board, [], { ...usualSetup, feed: feedOf(profile) });
        const level = levelOf(board, feedOf(profile) === 'battery' ? 0 : 2, (pick % (profile.stages.length + 1)) - 1);
        const s = solveBoard(board, condition, level, makeWorkspace(board), sourceV);
        profile.converters.forEach((spec, c) => {
          if (s.inA[c] === 0 || spec.kind === 'switch' || spec.kind === 'ldo') return;
          const own = board.to[c].filter(
            (r) => s.railV[r] > 0 && board.feeding[r].every((other) => other === c || s.outA[other] === 0),
          );
          const given = own.reduce((sum, r) => sum + s.railV[r] * s.railA[r], 0);
          const taken = (s.inA[c] - spec.ownA) * s.railV[board.from[c]];
          expect(taken * spec.efficiency).toBeCloseTo(given, 6);
        });
      }),
    );
  });

  test('the heat of converters, shorts and loads is what the feed delivers', () => {
    for (const profile of shippedProfiles) {
      const board = boardOf(profile.id);
      const { condition, sourceV } = conditionOf(board, [], { ...usualSetup, feed: feedOf(profile), leadOhm: 0 });
      const level = levelOf(board, feedOf(profile) === 'battery' ? 0 : 2, profile.stages.length - 1);
      const s = solveBoard(board, condition, level, makeWorkspace(board), sourceV);
      const heat = heatOf(board, condition, s);
      const total = [...heat.converters, ...heat.shorts, ...heat.loads].reduce((a, b) => a + b, 0);
      expect(total / (s.feedA * sourceV)).toBeCloseTo(1, 2);
    }
  });

  test('below the limits, a heavier short never draws less', () => {
    fc.assert(
      fc.property(anyShipped, fc.nat(100), fc.double({ min: 0.2, max: 2.5, noNaN: true }), (profile, pick, decade) => {
        const board = boardOf(profile.id);
        const rail = profile.rails[pick % profile.rails.length];
        const setup = { ...usualSetup, feed: feedOf(profile), limitA: 5 };
        const levels = Array.from({ length: profile.stages.length }, (_, k) => levelOf(board, 2, k));
        const measure = (ohm: number) => {
          const { condition, sourceV } = conditionOf(
            board,
            [{ kind: 'short', at: rail.id, value: ohm, side: null }],
            setup,
          );
          return levels.map((level) => solveBoard(board, condition, level, makeWorkspace(board), sourceV));
        };
        const [light, heavy] = [measure(10 ** decade * 1.5), measure(10 ** decade)];
        light.forEach((a, k) => {
          const b = heavy[k];
          const limited = a.mode === 'cc' || b.mode === 'cc' || [...a.overloaded, ...b.overloaded].some((f) => f === 1);
          // A sag that takes a load below its working voltage takes its current away too.
          const lost = b.railV.some(
            (v, r) => v < goodShare * board.nominalV[r] && a.railV[r] >= goodShare * board.nominalV[r],
          );
          if (!limited && !lost) expect(b.feedA).toBeGreaterThanOrEqual(a.feedA - 1e-3 * a.feedA - 1e-4);
        });
      }),
    );
  });

  test('nothing exceeds the limit, whatever the fault', () => {
    fc.assert(
      fc.property(
        anyShipped.chain((p) => fc.tuple(fc.constant(p), anyFault(p))),
        fc.double({ min: 0.3, max: 4, noNaN: true }),
        ([profile, fault], limitA) => {
          const s = startUp(boardOf(profile.id), [fault], { ...usualSetup, feed: feedOf(profile), limitA });
          for (const segment of s.segments) {
            expect(segment.highA).toBeLessThanOrEqual(limitA + 1e-9);
            expect(segment.meanA).toBeGreaterThanOrEqual(0);
            expect(segment.volts).toBeLessThanOrEqual(25);
          }
          expect(s.cutOff).toBe(false);
        },
      ),
      { numRuns: 300 },
    );
  });

  test('unplugging a load never raises the current of a healthy device', () => {
    fc.assert(
      fc.property(anyShipped, fc.nat(100), (profile, pick) => {
        const board = boardOf(profile.id);
        const load = profile.loads[pick % profile.loads.length];
        const setup = { ...usualSetup, feed: feedOf(profile), limitA: 20 };
        for (let stage = 0; stage < profile.stages.length; stage++) {
          const amps = (unplugged: string[]): number => {
            const { condition, sourceV } = conditionOf(board, [], { ...setup, unplugged });
            return solveBoard(board, condition, levelOf(board, 2, stage), makeWorkspace(board), sourceV).feedA;
          };
          expect(amps([load.id])).toBeLessThanOrEqual(amps([]) + 1e-6);
        }
      }),
    );
  });
});

describe('start-ups', () => {
  test.each(shippedProfiles.map((p) => [p.id, p] as const))('a healthy %s starts and runs', (id, profile) => {
    const s = start(id, 'none', { feed: feedOf(profile), limitA: 8, seconds: 40 });
    expect(s.running).toBe(true);
    expect(s.waitsFor).toEqual([]);
    expect(s.restarts).toBe(0);
    const before = at(s, 2);
    if (profile.battery) expect(before.meanA).toBeLessThan(0.01);
  });

  test('a part that does not answer freezes the stage that waits for it', () => {
    const s = start('generic-phone', 'mute:storage-chip');
    expect(s.waitsFor).toEqual(['storage-chip']);
    expect(at(s, 19).meanA).toBeCloseTo(at(s, 7).meanA, 6);
    expect(s.events.some((e) => e.what === 'waits' && e.detail === 'storage-chip')).toBe(true);
  });

  test('a partner that does not answer brings the same piece again and again', () => {
    const s = start('tallgate-moorcall-2', 'mute:radio-chip', { seconds: 40 });
    expect(s.restarts).toBeGreaterThanOrEqual(3);
    const starts = s.events.filter((e) => e.what === 'stage' && e.detail === 'standby').map((e) => e.t);
    const gaps = starts.slice(1).map((t, k) => t - starts[k]);
    for (const gap of gaps) expect(gap).toBeCloseTo(gaps[0], 6);
  });

  test('a hard short on the main rail holds the supply in its limit with the voltage down', () => {
    const s = start('generic-phone', 'short:main=0.2', { limitA: 2 });
    expect(at(s, 2)).toMatchObject({ kind: 'limit', meanA: 2 });
    // 2 A through 0.2 ohm, the leads and the two switches before it.
    expect(at(s, 2).volts).toBeCloseTo(2 * (0.2 + 0.08 + 0.01 + 0.012), 1);
  });

  test('a leak on the main rail draws before power-on what Ohm says', () => {
    const s = start('generic-phone', 'short:main=38.5');
    expect(at(s, 2).meanA - at(start('generic-phone'), 2).meanA).toBeCloseTo(3.85 / 38.5, 2);
  });

  test('a port with an open contact is dead one way up only', () => {
    const dead = start('oxbarrow-hearthfold-13', 'open:port1/flipped', { feed: 'usb-c', flipped: true });
    const alive = start('oxbarrow-hearthfold-13', 'open:port1/flipped', { feed: 'usb-c' });
    expect(dead.segments.every((s) => s.meanA === 0)).toBe(true);
    const withBattery = start('oxbarrow-hearthfold-13', 'open:port1', { feed: 'usb-c', battery: true });
    expect(withBattery.contractV).toBe(0);
    expect(alive.contractV).toBe(20);
    expect(start('oxbarrow-hearthfold-13', 'open:port1', { feed: 'usb-c', port: 2 }).contractV).toBe(20);
  });

  test('without its management controller the contract stays at 5 V', () => {
    const s = start('oxbarrow-hearthfold-13', 'mute:mgmt', { feed: 'usb-c' });
    expect(s.contractV).toBe(0);
    expect(at(s, 10).volts).toBe(5);
    expect(at(s, 10).meanA).toBeGreaterThan(0.02);
  });

  test('a shorted bus never comes up, and the source keeps trying', () => {
    const s = start('oxbarrow-hearthfold-13', 'short:vbus-1=0.05', { feed: 'usb-c' });
    expect(s.events.filter((e) => e.what === 'source-cuts').length).toBeGreaterThan(4);
    expect(Math.max(...s.segments.map((x) => x.volts))).toBeLessThan(1);
  });

  test('an empty battery is charged gently, a half full one at the full rate, a full one hardly', () => {
    const amps = (batteryV: number): number =>
      at(start('fenmoor-larkslate-10', 'none', { feed: 'usb-c', battery: true, batteryV, promptS: null }), 10).meanA;
    expect(amps(2.9)).toBeLessThan(0.3 * amps(3.7));
    expect(amps(4.33)).toBeLessThan(0.3 * amps(3.7));
  });

  test('a port that only its controller asks for has no bus voltage while that is silent', () => {
    const profile = shippedProfile('generic-phone') as Profile;
    const asks = { ...profile, ports: profile.ports.map((p) => ({ ...p, busNeedsController: true })) };
    const setup: TwinSetup = { ...usualSetup, feed: 'usb-c', limitA: null, battery: true };
    const volts = (of: Profile, fault: string): number =>
      Math.max(...startUp(compileProfile(of), [parseFault(of, fault)], setup).segments.map((s) => s.volts));
    expect(volts(profile, 'mute:port-controller')).toBeGreaterThan(4.5);
    expect(volts(asks, 'mute:port-controller')).toBeLessThan(0.5);
    expect(volts(asks, 'none')).toBeGreaterThan(8);
  });
  test('a mute port controller on one port leaves the other alone', () => {
    const fault = 'mute:port-controller-1';
    expect(start('oxbarrow-hearthfold-13', fault, { feed: 'usb-c' }).contractV).toBe(0);
    expect(start('oxbarrow-hearthfold-13', fault, { feed: 'usb-c', port: 2 }).contractV).toBe(20);
  });

  test('two faults at once: both show', () => {
    const board = boardOf('generic-phone');
    const faults = ['short:main=40', 'mute:storage-chip'].map((f) => parseFault(board.profile, f));
    const s = startUp(board, faults, usualSetup);
    expect(at(s, 2).meanA).toBeGreaterThan(0.08);
    expect(s.waitsFor).toEqual(['storage-chip']);
  });

  test('a feed that the device does not have is refused', () => {
    expect(() => start('generic-phone', 'none', { feed: 'dc-in' })).toThrow(/has no DC input/);
    expect(() => start('generic-phone', 'none', { feed: 'usb-c', port: 2 })).toThrow(/has no port 2/);
  });
});

describe('faults in words', () => {
  const profile = shippedProfile('oxbarrow-hearthfold-13') ?? shippedProfiles[0];
  test('every fault reads back as it was written', () => {
    fc.assert(
      fc.property(anyFault(profile), (fault) => {
        expect(parseFault(profile, formatFault(fault))).toEqual(fault);
      }),
    );
  });
  test.each([
    ['melted:main', /"melted" is not a kind of fault/],
    ['short:nowhere', /"nowhere" is not an element of the profile oxbarrow-hearthfold-13/],
    ['mute:main', /a rail cannot be "mute"/],
    ['short:main=-1', /expected a number from 0\.001 to 100000 ohm/],
    ['dead:charger=3', /"dead" takes no value/],
    ['short:main/flipped=1', /only a port/],
    ['short', /expected "none" or "kind:element"/],
  ])('refuses %s', (spec, message) => {
    expect(() => parseFault(profile, spec)).toThrow(message);
  });
});

describe('a device that was started before the run', () => {
  const withBattery = shippedProfiles.filter((p) => p.battery && p.ports.length > 0);
  const rest = (s: StartUp): number => {
    const last = s.segments[s.segments.length - 1];
    return last.meanA * last.volts;
  };

  test.each(withBattery.map((p) => p.id))('%s: draws what it draws after a start, and less asleep', (id) => {
    const whole = start(id, 'none', { promptS: 1, seconds: 90 });
    const onward = start(id, 'none', { state: 'running', promptS: null, onS: 0, seconds: 20 });
    const asleep = start(id, 'none', { state: 'asleep', promptS: null, onS: 0, seconds: 20 });
    const off = start(id, 'none', { promptS: null, onS: 0, seconds: 20 });
    expect(rest(onward)).toBeCloseTo(rest(whole), 6);
    expect(onward.running).toBe(true);
    expect(rest(asleep)).toBeLessThan(rest(onward));
    expect(rest(asleep)).toBeGreaterThanOrEqual(rest(off));
  });

  test('a press wakes one that sleeps', () => {
    const woken = start('tallgate-moorcall-2', 'none', { state: 'asleep', promptS: 2, onS: 0, seconds: 40 });
    expect(woken.running).toBe(true);
    expect(woken.events.filter((e) => e.what === 'stage').map((e) => e.detail)).not.toContain('standby');
  });

  test('one that cannot start stands where it stopped', () => {
    const stuck = start('tallgate-moorcall-2', 'mute:storage-chip', { state: 'running', promptS: null, onS: 0 });
    expect(stuck.running).toBe(false);
    expect(boardOf('tallgate-moorcall-2').profile.stages[stuck.stage].id).toBe('fetch');
  });

  test('never hangs, whatever is wrong with it', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(...withBattery).chain((p) => fc.tuple(fc.constant(p), anyFault(p))),
        fc.constantFrom('asleep', 'running'),
        fc.constantFrom('usb-c', 'battery'),
        (pair, state, feed) => {
          const [p, fault] = pair;
          const setup = { ...usualSetup, state, feed, battery: feed === 'usb-c', promptS: null } as TwinSetup;
          const s = startUp(boardOf(p.id), [fault], setup);
          expect(s.cutOff).toBe(false);
          expect(s.segments.at(-1)?.t1).toBeCloseTo(setup.seconds, 6);
        },
      ),
      { numRuns: 60 },
    );
  });
});

describe('recording', () => {
  const board = boardOf('tallgate-moorcall-2');
  const s = startUp(board, [], usualSetup);
  const names = Object.keys(instrumentModels) as InstrumentName[];

  test('the same seed gives the same samples, another seed others', () => {
    for (const name of names) {
      const draw = (seed: number) => recordStartUp(s, usualSetup, instrumentOf(name), seededRandom(seed));
      expect(draw(7)).toEqual(draw(7));
      expect(draw(7).i).not.toEqual(draw(8).i);
    }
  });

  test('gain and offset stand in the samples as a meter would show them', () => {
    const plain = { ...instrumentOf('bench-logger'), noiseA: 0 };
    const off = { ...plain, gainA: 1.05, offsetA: 0.01 };
    const [a, b] = [plain, off].map((i) => recordStartUp(s, usualSetup, i, seededRandom(3)));
    const hold = a.t.findIndex((t) => t > 5);
    expect(b.i[hold]).toBeCloseTo(a.i[hold] * 1.05 + 0.01, 2);
  });

  test('values stand on the steps of the display, and a range change leaves a gap', () => {
    const coarse = recordStartUp(s, usualSetup, instrumentOf('display'), seededRandom(1));
    for (const i of coarse.i) expect(Math.abs(i * 100 - Math.round(i * 100))).toBeLessThan(1e-4);
    const ranging = recordStartUp(s, usualSetup, instrumentOf('ranging-meter'), seededRandom(1));
    expect(ranging.i.some((i) => Number.isNaN(i))).toBe(true);
  });
});
