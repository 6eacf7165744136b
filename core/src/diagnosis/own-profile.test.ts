import type { CircuitId } from '../catalogue/index.ts';
import { circuitsWithoutElement } from '../hypotheses/index.ts';
import { readingOf } from '../testing/cases.ts';
import { recorded } from '../testing/recorded.ts';
import { genericProfile, shippedProfile, type Profile, type TwinSetup } from '../twin/index.ts';
import { assess, predictedDraw } from './index.ts';
import { sayEvidence } from '../reasons/index.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');
const laptop = profileOf('oxbarrow-hearthfold-13');
const called = (profile: Profile, spec: string, change: Partial<TwinSetup> = {}) => {
  const { value, shape } = recorded(profile, spec, change);
  return assess(value, new Map([['r1', shape]]));
};

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
    const reading = readingOf({
      where: 'sensors',
      mode: 'resistance',
      value: 0.1,
      reference: 300,
      prompted: false,
      powered: false,
    });
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
    const { stretches: draw, predicted } = predictedDraw(value, run, shape, 'core.storage');
    const inside = [...trace.t].filter((t, k) => {
      const d = draw.find((x) => x.t0 <= t && t < x.t1);
      return d !== undefined && trace.i[k] >= d.low - 0.004 && trace.i[k] <= d.high + 0.004;
    }).length;
    expect(inside / trace.t.length).toBeGreaterThan(0.95);
    expect(predicted[0]).toMatchObject({ fits: 'yes', says: expect.stringMatching(/storage: does not answer/) });
    expect(predicted.length).toBeGreaterThan(1);
    expect(predicted.map((f) => f.fits)).not.toContain('no');
    expect(predictedDraw(value, run, shape, 'unmodelled')).toEqual({ stretches: [], predicted: [] });
  });
  test('a suspect that does not fit says in which figure', () => {
    const { value, run, shape } = recorded(phone, 'mute:storage-chip');
    const healthy = predictedDraw(value, run, shape, 'none');
    expect(healthy.predicted[0]).toMatchObject({ fits: 'no', says: expect.stringContaining('“Boots normally”') });
    expect(healthy.predicted.slice(1).some((f) => f.fits === 'no' && /; seen: /.test(f.says))).toBe(true);
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
    expect(a.warnings.join(' ')).toMatch(/Button and wake line: the profile .* does not include this part/);
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

test('a healthy twin shows no evidence against healthy', () => {
  for (const profile of [phone, profileOf('fenmoor-larkslate-10'), profileOf('tallgate-pennywren')]) {
    const a = called(profile, 'none');
    expect(a.circuits[0].id).toBe('none');
    expect(a.circuits[0].evidence.filter((e) => sayEvidence(e).startsWith('Run') && e.for < -1)).toEqual([]);
  }
});
