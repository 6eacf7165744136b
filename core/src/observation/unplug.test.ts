import { caseOf, sketchInstruments, sketchRun } from '../testing/cases.ts';
import type { Stroke } from '../sketch/index.ts';
import { LiveDevice, shippedProfile, type Profile } from '../twin/index.ts';
import type { Marker, Trace } from '../trace/index.ts';
import { assess, describe as describeShape } from '../diagnosis/index.ts';
import { spontaneousChanges, unplugSteps } from './unplug.ts';
import { sayEvidence } from '../reasons/index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;

function shapeOf(strokes: Stroke[], markers: Marker[], seed = 1) {
  const { run, trace } = sketchRun({ feed: 'battery', strokes, markers }, sketchInstruments.logger, seed);
  return describeShape(caseOf('phone'), run, trace, null);
}

const hold = (amps: number, seconds: number): Stroke => ({ amps, seconds });

describe('the step at a marker', () => {
  const markers: Marker[] = [
    { t: 1, event: 'prompt' },
    { t: 6, event: 'part-off', note: 'camera board' },
    { t: 10, event: 'part-off', note: 'sensor flex' },
  ];

  test('is measured against the noise: one that falls, one after which nothing changes', () => {
    const steps = unplugSteps(shapeOf([hold(0.01, 1), hold(0.3, 5), hold(0.21, 8)], markers));
    expect(steps.map((s) => [s.part, s.moved])).toEqual([
      ['camera board', 'falls'],
      ['sensor flex', 'same'],
    ]);
    expect(steps[0].beforeA).toBeCloseTo(0.3, 1);
    expect(steps[0].afterA).toBeCloseTo(0.21, 1);
  });

  test('the noise alone is never a step, whatever the seed', () => {
    for (let seed = 1; seed <= 12; seed++)
      for (const step of unplugSteps(shapeOf([hold(0.01, 1), hold(0.3, 13)], markers, seed)))
        expect(step.moved).toBe('same');
  });

  test('a marker at the very end has nothing after it to be measured by', () => {
    expect(unplugSteps(shapeOf([hold(0.01, 1), hold(0.3, 5)], [{ t: 5.95, event: 'part-off', note: 'x' }]))).toEqual(
      [],
    );
  });
});

test('a change with nobody at it is predicted, one at a marker is not, and none before anything came off', () => {
  const markers: Marker[] = [
    { t: 1, event: 'prompt' },
    { t: 4, event: 'part-off', note: 'camera board' },
  ];
  const predicted = spontaneousChanges(shapeOf([hold(0.01, 1), hold(0.3, 3), hold(0.2, 6), hold(0.5, 4)], markers));
  expect(predicted).toHaveLength(1);
  expect(predicted[0].t).toBeCloseTo(10, 0);
  expect(spontaneousChanges(shapeOf([hold(0.3, 5), hold(0.5, 5)], []))).toEqual([]);
});

/** A device on the supply whose parts come off while it is recorded. */
function liveRun(fault: string, part: { id: string; name: string }) {
  const device = new LiveDevice(phone, fault === '' ? [] : [{ kind: 'short', at: fault, value: 3, side: null }], 1);
  const [n, step] = [1600, 0.01];
  const trace = sketchRun({ feed: 'battery', strokes: [hold(0.01, n * step)] }, sketchInstruments.logger).trace;
  const made: Trace = {
    ...trace,
    t: Float64Array.from({ length: n }, (_, k) => k * step),
    v: new Float32Array(n).fill(3.85),
    i: new Float32Array(n),
  };
  device.feed({ feed: 'battery', on: true, setV: 3.85, limitA: 3 }, 0);
  for (let k = 0; k < n; k++) {
    const t = k * step;
    if (k === 200) device.act({ does: 'press' }, t);
    if (k === 1200) device.act({ does: 'take-off', id: part.id }, t);
    made.i[k] = device.at(t).supply.amps;
  }
  const markers: Marker[] = [
    { t: 0, event: 'output-on' },
    { t: 2, event: 'prompt' },
    { t: 12, event: 'part-off', note: part.name },
  ];
  const { run } = sketchRun(
    { feed: 'battery', strokes: [hold(0.01, 1)], markers, setup: { setV: 3.85, limitA: 3, battery: 'disconnected' } },
    sketchInstruments.logger,
  );
  const value = caseOf('phone', { runs: [run] });
  value.device.profile = phone.id;
  return { value, run, shape: describeShape(value, run, made, null) };
}

test('the shorted peripheral that comes off makes the draw fall, and is accused by it', () => {
  const part = phone.peripherals[0];
  const { value, run, shape } = liveRun(part.id, part);
  const [step] = unplugSteps(shape);
  expect(step.moved).toBe('falls');
  const predicted = assess(value, new Map([[run.id, shape]]));
  const bare = { ...shape, markers: shape.markers.filter((m) => m.event !== 'part-off') };
  const untold = assess(value, new Map([[run.id, bare]]));
  const p = (a: typeof predicted): number => a.circuits.flatMap((c) => c.targets).find((t) => t.id === part.id)?.p ?? 0;
  expect(p(predicted)).toBeGreaterThan(p(untold));
  expect(predicted.circuits.flatMap((c) => c.evidence).some((e) => sayEvidence(e).includes('unplugged in run'))).toBe(
    true,
  );
});
