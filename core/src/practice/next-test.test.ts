import { bareCase, plainReading, type Case } from '../case/index.ts';
import { decidePolicy } from '../decide/index.ts';
import { assess, describe as describeShape } from '../diagnosis/index.ts';
import { parseFault, shippedProfile, type Profile } from '../twin/index.ts';
import { PracticeBench, valuedTests } from './index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const faults = [parseFault(phone, 'short:io=0.4')];
const device = { class: 'phone' as const, model: phone.name, profile: phone.id };
const bench = new PracticeBench(phone, { faults, off: [] }, 7);
const onSupply = { feed: 'battery', instrument: 'bench-logger', setV: null, limitA: null, battery: false } as const;
const { run, trace } = bench.record({ ...onSupply, port: 1, flipped: false, presses: true, unplugged: [] }, 0);
const called: Case = { ...bareCase(device, [], 'does not start'), runs: [run] };
const shapes = new Map([[run.id, describeShape(called, run, trace, null)]]);

test('what the engine would do has 100 points, nothing has more, and what tells nothing has none', () => {
  const tests = valuedTests(called, shapes);
  const [first] = assess(called, shapes).next;
  expect(tests.find((t) => t.name === first.name)?.points).toBe(100);
  expect(tests.every((t) => t.points >= 0 && t.points <= 100)).toBe(true);
  expect(tests.find((t) => t.name === 'Stop here')?.points).toBe(0);
  expect(new Set(tests.map((t) => t.name)).size).toBe(tests.length);
});

test('points fall as the information a minute does', () => {
  const tests = valuedTests(called, shapes);
  const { next } = assess(called, shapes);
  const checks = next.filter((s) => s.kind !== 'stop');
  const worth = checks.map((s) => s.bits / (s.minutes + decidePolicy.everyTestMinutes));
  const points = checks.map((s) => tests.find((t) => t.name === s.name)?.points ?? -1);
  // What is shown is rounded: to a thousandth of a bit and a tenth of a minute.
  for (const [k, w] of worth.entries()) expect(Math.abs(points[k] - (100 * w) / worth[0])).toBeLessThan(2);
});

test('the outcomes of each test are said once each and sum to certainty', () => {
  for (const { kind, outcomes, name } of valuedTests(called, shapes)) {
    if (kind === 'stop') continue;
    expect({ name, sum: outcomes.reduce((sum, o) => sum + o.p, 0) }).toEqual({ name, sum: expect.closeTo(1, 6) });
    expect(new Set(outcomes.map((o) => o.says)).size).toBe(outcomes.length);
  }
});

test('with a hard short measured, checks from outside have no points and feeding the short has them all', () => {
  const measured: Case = {
    ...called,
    readings: [{ ...plainReading, where: 'io', mode: 'resistance', value: 0.4, unit: 'ohm', leadsOhm: 0 }],
  };
  const tests = valuedTests(measured, shapes);
  const best = tests.filter((t) => t.points === 100 && t.kind !== 'stop');
  expect(best.map((t) => t.kind)).toEqual(['injection']);
  expect(tests.find((t) => t.kind === 'check' && t.name.startsWith('Screen'))?.points ?? 0).toBe(0);
});
