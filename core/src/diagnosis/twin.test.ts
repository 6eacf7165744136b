import fc from 'fast-check';
import { checkTypes, circuitIds, type CheckId, type CircuitId, type Reading } from '../case/index.ts';
import { recognise } from '../shape/index.ts';
import { recorded } from '../testing/recorded.ts';
import {
  circuitOfFault,
  compileProfile,
  genericProfile,
  kindsAt,
  makeWorkspace,
  parseFault,
  shippedProfile,
  shippedProfiles,
  startUp,
  usualSetup,
  type Profile,
  type TwinSetup,
} from '../twin/index.ts';
import { deviceTwinOf, predictAll, twinSetupOf } from './device-twin.ts';
import { compare, fitOf, fitOfNothing } from './fit.ts';
import { featuresOf } from './predict.ts';
import { contextFor } from './expectation.ts';
import {
  assess,
  circuitsWithoutElement,
  hasSymptom,
  hypothesesOf,
  predictedDraw,
  predictOutcome,
  Trial,
} from './index.ts';
import { outcomeModel } from './twin-checks.ts';
import { tableModel } from './tables.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');
const laptop = profileOf('oxbarrow-hearthfold-13');
const eye = { noiseA: 0.0008, resolutionA: 0.001, intervalS: 0.05 };

const called = (profile: Profile, spec: string, change: Partial<TwinSetup> = {}) => {
  const { value, shape } = recorded(profile, spec, change);
  return assess(value, new Map([['r1', shape]]));
};

describe('hypotheses', () => {
  test.each(shippedProfiles.map((p) => [p.id, p] as const))(
    'of %s: every circuit is there, shares sum to one, every fault can start',
    (_, profile) => {
      const list = hypothesesOf(profile);
      const sums = new Map<CircuitId, number>();
      for (const h of list) sums.set(h.circuit, (sums.get(h.circuit) ?? 0) + h.share);
      expect([...sums.keys()].sort()).toEqual([...circuitIds].sort());
      for (const sum of sums.values()) expect(sum).toBeCloseTo(1, 9);
      const board = compileProfile(profile);
      const workspace = makeWorkspace(board);
      const feed = profile.battery ? 'battery' : 'dc-in';
      for (const h of list) {
        if (h.fault === null) continue;
        expect(circuitOfFault(profile, h.fault)).toBe(h.circuit);
        expect(startUp(board, [h.fault], { ...usualSetup, feed }, workspace).cutOff).toBe(false);
      }
    },
  );

  test('without a profile every circuit stands for itself', () => {
    const list = hypothesesOf(null);
    expect(list.map((h) => h.circuit)).toEqual(circuitIds);
    expect(list.every((h) => h.fault === null && h.share === 1)).toBe(true);
  });

  test('severities are spread, so that a level between two of them is near one of them', () => {
    const ohms = hypothesesOf(phone).flatMap((h) =>
      h.fault?.kind === 'short' && h.fault.at === 'main' ? [h.fault.value ?? 0] : [],
    );
    expect(ohms.length).toBeGreaterThanOrEqual(4);
    const sorted = [...ohms].sort((a, b) => a - b);
    sorted.slice(1).forEach((ohm, k) => expect(ohm / sorted[k]).toBeLessThan(6));
  });

  test('a fault that nobody would notice keeps only a small share', () => {
    const twin = deviceTwinOf({ class: 'phone', model: '', serial: '', profile: phone.id, expect: {} }, []);
    const before = hypothesesOf(phone);
    twin.hypotheses.forEach((h, k) => {
      if (h.fault === null || h.fault.kind === 'none') return;
      const noticed = hasSymptom(new Trial(twin.board, [h.fault], twin.workspace));
      const alone = twin.hypotheses.filter((x) => x.circuit === h.circuit).length === 1;
      if (!noticed && !alone) expect(h.share).toBeLessThanOrEqual(before[k].share + 1e-9);
    });
  });
});

describe('predictions', () => {
  test('features of a start-up are those that the recogniser measures in its recording', () => {
    for (const spec of ['none', 'mute:storage-chip', 'short:main=20', 'mute:radio-chip', 'mute:clock']) {
      const { start, setup, shape } = recorded(phone, spec, { seconds: 40 });
      const predicted = featuresOf(start, setup, eye);
      const seen = shape.features;
      const near = (a: number | null | undefined, b: number | null | undefined): void => {
        expect(Math.abs((a ?? 0) - (b ?? 0))).toBeLessThan(0.25 * Math.max(a ?? 0, b ?? 0) + 0.03);
      };
      near(predicted.before?.levelW, seen.before?.levelW);
      near(predicted.voltage.highest, seen.voltage.highest);
      if (predicted.after?.pulses === null) near(predicted.after.tailW, seen.after?.tailW);
      else expect(seen.after?.pulses?.periodS).toBeCloseTo(predicted.after?.pulses?.periodS ?? 0, 0);
    }
  });

  test('the pattern of a prediction is the pattern of its recording', () => {
    for (const spec of ['none', 'mute:storage-chip', 'short:main=0.1', 'mute:clock', 'mute:radio-chip']) {
      const { value, run, shape, start, setup } = recorded(phone, spec, { seconds: 40 });
      const context = contextFor(value, run);
      const features = featuresOf(start, setup, eye);
      expect(recognise({ ...shape, features }, context)[0].id).toBe(recognise(shape, context)[0].id);
    }
  });

  test('a slow display does not see pulses that are too fast for it', () => {
    const { start, setup } = recorded(phone, 'short:memory=0.05');
    expect(featuresOf(start, setup, { ...eye, intervalS: 0.02 }).after?.pulses).not.toBeNull();
    expect(featuresOf(start, setup, { ...eye, intervalS: 0.5 }).after?.pulses).toBeNull();
  });

  test('a run that the twin cannot stand in has no setup', () => {
    const { value, run, shape } = recorded(phone, 'none');
    const twin = deviceTwinOf(value.device, value.runs);
    expect(twinSetupOf(twin, run, shape)).toMatchObject({ feed: 'battery', promptS: 4 });
    expect(twinSetupOf(twin, { ...run, quantity: 'voltage-only' }, shape)).toBeNull();
    const running = { ...run, setup: { ...run.setup, deviceState: 'running' as const } };
    expect(twinSetupOf(twin, running, shape)).toMatchObject({ state: 'running' });
    expect(twinSetupOf(twin, { ...run, feed: 'dc-in' }, shape)).toBeNull();
  });

  test('what a person calls an unplugged part is found among the peripherals', () => {
    const { value, run, shape } = recorded(phone, 'none');
    const twin = deviceTwinOf(value.device, value.runs);
    const unplugged = (names: string[]) =>
      twinSetupOf(twin, { ...run, setup: { ...run.setup, unplugged: names } }, shape)?.unplugged;
    expect(unplugged(['Sensor flex'])).toEqual(['sensor-flex']);
    expect(unplugged(['that thing'])).toEqual(phone.peripherals.map((p) => p.id));
  });

  test('predictions are made once for a setup, and one for every hypothesis that can start', () => {
    const { value, run, shape } = recorded(phone, 'none');
    const twin = deviceTwinOf(value.device, value.runs);
    const setup = twinSetupOf(twin, run, shape);
    if (!setup) throw new Error('the twin stands in this setup');
    const context = contextFor(value, run);
    const first = predictAll(twin, setup, eye, context);
    expect(predictAll(twin, setup, eye, context)).toBe(first);
    twin.hypotheses.forEach((h, k) => expect(first[k] === null).toBe(h.fault === null));
  });
});

describe('fit', () => {
  test('the truth fits better than a strange cause, and better than a healthy device', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('mute:storage-chip', 'short:main=20', 'mute:clock', 'short:radio=0.2'),
        fc.nat(50),
        (spec, seed) => {
          const { value, run, shape, start, setup } = recorded(phone, spec, {}, seed + 1);
          const context = contextFor(value, run);
          const seen = { features: shape.features, patterns: recognise(shape, context) };
          const predict = (s: typeof start) => {
            const features = featuresOf(s, setup, eye);
            return { features, patterns: recognise({ ...shape, features }, context) };
          };
          const total = (f: { pattern: number; details: number }): number => f.pattern + f.details;
          const truth = predict(start);
          const healthy = predict(startUp(compileProfile(phone), [], setup));
          const nothing = total(fitOfNothing(seen, compare(seen, truth, 'own', true)));
          expect(total(fitOf(compare(seen, truth, 'own', true)))).toBeGreaterThan(nothing);
          expect(total(fitOf(compare(seen, healthy, 'own', true)))).toBeLessThan(
            total(fitOf(compare(seen, truth, 'own', true))),
          );
        },
      ),
      { numRuns: 25 },
    );
  });

  test('a healthy twin shows no evidence against healthy', () => {
    for (const profile of [phone, profileOf('fenmoor-larkslate-10'), profileOf('tallgate-pennywren')]) {
      const a = called(profile, 'none');
      expect(a.circuits[0].id).toBe('none');
      expect(a.circuits[0].evidence.filter((e) => e.item.startsWith('run') && e.for < -1)).toEqual([]);
    }
  });
});

describe('calls with the model’s own profile', () => {
  test.each([
    ['mute:radio-chip', 'radio', phone, { seconds: 40 }],
    ['mute:storage-chip', 'core.storage', phone, {}],
    ['short:main=0.1', 'rail.main', phone, {}],
    ['mute:mgmt', 'mgmt', laptop, { feed: 'usb-c', battery: true }],
    ['mute:power-good', 'seq.power-good', laptop, {}],
    ['dead:core-conv', 'core.supply', laptop, {}],
  ] as [string, CircuitId, Profile, Partial<TwinSetup>][])(
    '%s is among the first three as %s',
    (spec, circuit, profile, change) => {
      const a = called(profile, spec, change);
      expect(a.circuits.slice(0, 3).map((c) => c.id)).toContain(circuit);
      expect(a.circuits.reduce((sum, c) => sum + c.p, 0)).toBeGreaterThan(0.97);
    },
  );

  test('the element is named, and its targets sum to no more than the circuit', () => {
    const a = called(phone, 'mute:radio-chip', { seconds: 40 });
    const radio = a.circuits.find((c) => c.id === 'radio');
    expect(radio?.target).toBe('radio');
    expect(radio?.targets.reduce((sum, t) => sum + t.p, 0)).toBeLessThanOrEqual((radio?.p ?? 0) + 1e-4);
  });

  test('without a profile of the model no element is named', () => {
    const { value, shape } = recorded(phone, 'mute:radio-chip', { seconds: 40 }, 1, false);
    const a = assess(value, new Map([['r1', shape]]));
    expect(a.circuits.every((c) => c.target === null && c.targets.length === 0)).toBe(true);
  });

  test('a short that is measured settles which rail it is', () => {
    const { value, shape } = recorded(phone, 'short:sensors=0.1', { seconds: 40 });
    const reading: Reading = {
      where: 'sensors',
      circuit: null,
      state: null,
      prompted: false,
      mode: 'resistance',
      value: 0.1,
      unit: 'ohm',
      ol: false,
      reference: 300,
      redProbe: null,
      powered: false,
    };
    const shapes = new Map([['r1', shape]]);
    const before = assess(value, shapes).circuits;
    const after = assess({ ...value, readings: [reading] }, shapes).circuits;
    const of = (list: typeof before): number =>
      ['rail.run', 'periph.board'].reduce((sum, id) => sum + (list.find((c) => c.id === id)?.p ?? 0), 0);
    expect(of(after)).toBeGreaterThan(of(before));
    expect(of(after)).toBeGreaterThan(0.8);
  });

  test('what a suspect would draw covers the run of that suspect', () => {
    const { value, run, shape, trace } = recorded(phone, 'mute:storage-chip');
    const { stretches: draw, foretold } = predictedDraw(value, run, shape, 'core.storage');
    const inside = [...trace.t].filter((t, k) => {
      const d = draw.find((x) => x.t0 <= t && t < x.t1);
      return d !== undefined && trace.i[k] >= d.low - 0.004 && trace.i[k] <= d.high + 0.004;
    }).length;
    expect(inside / trace.t.length).toBeGreaterThan(0.95);
    expect(foretold[0]).toMatchObject({ fits: 'yes', says: expect.stringMatching(/storage: does not answer/) });
    expect(foretold.length).toBeGreaterThan(1);
    expect(foretold.map((f) => f.fits)).not.toContain('no');
    expect(predictedDraw(value, run, shape, 'unmodelled')).toEqual({ stretches: [], foretold: [] });
  });
  test('a suspect that does not fit says in which figure', () => {
    const { value, run, shape } = recorded(phone, 'mute:storage-chip');
    const healthy = predictedDraw(value, run, shape, 'none');
    expect(healthy.foretold[0]).toMatchObject({ fits: 'no', says: expect.stringContaining('starts as it should') });
    expect(healthy.foretold.slice(1).some((f) => f.fits === 'no' && /; seen: /.test(f.says))).toBe(true);
  });
});

describe('outcomes of checks', () => {
  const trial = (profile: Profile, spec: string): Trial => {
    const board = compileProfile(profile);
    return new Trial(board, [parseFault(profile, spec)], makeWorkspace(board));
  };
  test.each([
    [
      'none',
      phone,
      {
        screen: 'image',
        charges: 'yes',
        'press-response': 'start',
        'host-detects': 'normal',
        'other-port': 'single-port',
        'charge-indicator': 'on',
      },
    ],
    [
      'mute:storage-chip',
      phone,
      { screen: 'dark', 'host-detects': 'recovery', 'press-response': 'small', 'known-good-display': 'no-image' },
    ],
    ['mute:memory-chip', phone, { 'host-detects': 'nothing' }],
    ['mute:radio-chip', phone, { screen: 'logo-loop' }],
    ['mute:panel-unit', phone, { screen: 'dark', 'known-good-display': 'image', 'host-detects': 'normal' }],
    ['mute:button', phone, { 'press-response': 'none' }],
    ['dead:charger', phone, { charges: 'no' }],
    ['short:main=0.1', phone, { 'main-rail-resistance': 'short', 'press-response': 'surge' }],
    ['short:main=20', phone, { 'main-rail-resistance': 'low', 'voltage-sweep': 'rises' }],
    ['open:port1/flipped', laptop, { 'flipped-plug': 'different' }],
    [
      'mute:port-controller-1',
      laptop,
      { 'other-port': 'different', 'flipped-plug': 'same', 'charge-indicator': 'off' },
    ],
    ['mute:mgmt', laptop, { 'other-port': 'same', fan: 'none', 'charge-indicator': 'off' }],
  ] as [string, Profile, Partial<Record<CheckId, string>>][])('with %s', (spec, profile, expected) => {
    const t = trial(profile, spec);
    const told = Object.fromEntries(Object.keys(expected).map((id) => [id, predictOutcome(t, id as CheckId)]));
    expect(told).toEqual(expected);
  });

  test('every prediction is an outcome that the check knows', () => {
    const profile = laptop;
    const ids = [...profile.rails, ...profile.converters, ...profile.parts, ...profile.ports].map((x) => x.id);
    fc.assert(
      fc.property(fc.constantFrom(...ids), fc.constantFrom(...(Object.keys(checkTypes) as CheckId[])), (id, check) => {
        const [kind] = kindsAt(profile, id);
        const told = predictOutcome(trial(profile, `${kind}:${id}`), check);
        if (told !== null && told !== 'single-port') expect(checkTypes[check].outcomes).toContain(told);
      }),
      { numRuns: 60 },
    );
  });

  test('the model of a check is a probability for every hypothesis', () => {
    for (const profile of [null, phone.id]) {
      const twin = deviceTwinOf({ class: 'phone', model: '', serial: '', profile, expect: {} }, []);
      for (const check of ['screen', 'host-detects', 'charges', 'press-response'] as const) {
        const outcomes = outcomeModel(twin, tableModel, check);
        twin.hypotheses.forEach((_, h) => {
          const sum = Object.values(outcomes ?? {}).reduce((total, list) => total + list[h], 0);
          expect(sum).toBeCloseTo(1, 6);
        });
      }
    }
  });
});

describe('suspects that no profile can start', () => {
  test('are named where they matter, and only under the model’s own profile', () => {
    const bare: Profile = { ...phone, id: 'bare', parts: phone.parts.filter((p) => p.circuit !== 'button') };
    const { value, run, shape } = recorded(phone, 'mute:button');
    const own = { ...value, device: { ...value.device, profile: 'bare' } };
    const a = assess(own, new Map([[run.id, shape]]), { profiles: new Map([['bare', bare]]) });
    expect(circuitsWithoutElement(bare)).toContain('button');
    expect(a.circuits.find((c) => c.id === 'button')?.p).toBeGreaterThan(0.04);
    expect(a.warnings.join(' ')).toMatch(/Button and wake line: the profile .* has no element of it/);
    expect(assess(value, new Map([[run.id, shape]])).warnings.join(' ')).not.toMatch(/has no element/);
  });
});

describe('unplugging one thing', () => {
  test('names what came off, not what stayed plugged in', () => {
    const tablet = profileOf('fenmoor-larkslate-10');
    const [flex, ...others] = tablet.peripherals;
    const sick = recorded(tablet, `short:${flex.id}=20`);
    const cured = recorded(tablet, `short:${flex.id}=20`, { unplugged: [flex.id] }, 2);
    const after = { ...cured.run, id: 'r2', setup: { ...cured.run.setup, unplugged: [flex.name] } };
    const value = { ...sick.value, runs: [sick.run, after] };
    const a = assess(
      value,
      new Map([
        ['r1', sick.shape],
        ['r2', cured.shape],
      ]),
    );
    const board = a.circuits.find((c) => c.id === flex.circuit);
    expect(board?.targets[0].name).toBe(flex.name);
    for (const other of others) {
      const p = (name: string): number => board?.targets.find((t) => t.name === name)?.p ?? 0;
      expect(p(other.name)).toBeLessThan(0.3 * p(flex.name));
    }
  });
});
