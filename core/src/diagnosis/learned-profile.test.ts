import type { Run } from '../case/index.ts';
import { seededRandom } from '../trace/index.ts';
import {
  compileProfile,
  instrumentOf,
  recordStartUp,
  shippedProfile,
  startUp,
  usualSetup,
  type Profile,
} from '../twin/index.ts';
import { deviceOf } from '../testing/cases.ts';
import { recordedRun } from '../practice/recorded-run.ts';
import { describe as describeShape, learnedProfile, type HealthyRun } from './index.ts';

const profile = shippedProfile('tallgate-moorcall-2') as Profile;
const device = { ...deviceOf('phone'), profile: profile.id };

/** Healthy starts of units that draw `level` times as much and take `time` times as long. */
function healthy(level: number, time: number, count = 4): HealthyRun[] {
  const unit: Profile = {
    ...profile,
    loads: profile.loads.map((l) => ({
      ...l,
      amps: Object.fromEntries(Object.entries(l.amps).map(([s, a]) => [s, a * level])),
      bursts: Object.fromEntries(Object.entries(l.bursts).map(([s, a]) => [s, a * level])),
    })),
    stages: profile.stages.map((s) => ({ ...s, seconds: s.seconds * time })),
  };
  const board = compileProfile(unit);
  return Array.from({ length: count }, (_, k) => {
    const setup = { ...usualSetup, feed: 'battery' as const, setV: 3.9, limitA: 5, seconds: 40, onS: 0.5, promptS: 4 };
    const trace = recordStartUp(startUp(board, [], setup), setup, instrumentOf('bench-logger'), seededRandom(k + 1));
    const markers: Run['markers'] = [
      { t: 0.5, event: 'output-on' },
      { t: 4, event: 'prompt' },
    ];
    const run = recordedRun(`r${k}`, setup, trace.instrument, markers);
    return { run, shape: describeShape({ device }, run, trace, null) };
  });
}

test('units that are as the profile says change nothing', () => {
  expect(learnedProfile(profile, device, healthy(1, 1))).toBeNull();
});

test('units that draw a quarter more move the levels of the profile there', () => {
  const learned = learnedProfile(profile, device, healthy(1.25, 1));
  expect(learned?.levels?.factor).toBeGreaterThan(1.15);
  expect(learned?.levels?.factor).toBeLessThan(1.35);
  expect(learned?.levels?.runs).toBe(4);
  // With the learned profile they agree.
  expect(learnedProfile(learned?.profile ?? profile, device, healthy(1.25, 1))?.levels ?? null).toBeNull();
});

test('units that start more slowly move its times', () => {
  const learned = learnedProfile(profile, device, healthy(1, 1.5));
  expect(learned?.times?.factor).toBeGreaterThan(1.25);
  expect(learned?.profile.stages[1].seconds).toBeGreaterThan(profile.stages[1].seconds);
});

test('two runs are too few to say anything', () => {
  expect(learnedProfile(profile, device, healthy(1.5, 1.5, 2))).toBeNull();
});
