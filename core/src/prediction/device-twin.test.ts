import { recognisePatterns } from '../shape/index.ts';
import { recorded } from '../testing/recorded.ts';
import { genericProfile, shippedProfile, type Profile } from '../twin/index.ts';
import { deviceTwinOf, predictAll, twinSetupOf } from './device-twin.ts';
import { contextFor } from './expectation.ts';
import { featuresOf } from './predict.ts';

const profileOf = (id: string): Profile => shippedProfile(id) ?? genericProfile('phone', false);
const phone = profileOf('tallgate-moorcall-2');
const eye = { noiseA: 0.0008, resolutionA: 0.001, intervalS: 0.05 };

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
      expect(recognisePatterns({ ...shape, features }, context)[0].id).toBe(recognisePatterns(shape, context)[0].id);
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
