import {
  bareCase,
  plainAction,
  plainCheck,
  plainInjection,
  plainReading,
  unknownSetup,
  type Case,
} from '../case/index.ts';
import { usualShop } from '../decide/index.ts';
import { unknownInstrument } from '../trace/index.ts';
import { parseFault, shippedProfile, type Profile } from '../twin/index.ts';
import { tallyOf } from './index.ts';

const phone = shippedProfile('tallgate-moorcall-2') as Profile;
const faults = [parseFault(phone, 'mute:storage-chip')];
const empty: Case = bareCase({ class: 'phone', model: phone.name, profile: phone.id }, [], 'x');
const run = (feed: 'usb-c' | 'battery', battery: 'connected' | 'absent'): Case['runs'][number] => ({
  id: 'r1',
  file: 'r1.csv',
  typed: null,
  feed,
  quantity: 'current',
  instrument: unknownInstrument,
  setup: { ...unknownSetup, unplugged: [], battery },
  markers: [],
  contract: null,
  after: null,
});
const tally = (value: Partial<Case>, looks = 0) => tallyOf({ ...empty, ...value }, phone, faults, looks);

test('nothing done costs nothing', () => {
  expect(tally({})).toEqual({ minutes: 0, cost: 0, probes: 0, changes: 0, wasted: 0, risks: [] });
});

test('minutes are those of the steps and of opening the device, money those of the hour', () => {
  const { minutes, cost } = tally({
    runs: [run('usb-c', 'connected')],
    checks: [{ ...plainCheck, id: 'screen', outcome: 'dark' }],
  });
  // A run takes 2 minutes and a look at the screen 1; nothing was opened.
  expect(minutes).toBe(3);
  expect(cost).toBeCloseTo((3 * usualShop.hourlyCost) / 60, 6);
  const probed = tally({ readings: [{ ...plainReading, where: 'io', mode: 'voltage', value: 1.8, unit: 'V' }] });
  // The cover, the plugs and the board: 6, 4 and 15 minutes, and 1 for the probe.
  expect(probed.minutes).toBe(26);
});

test('a probe that was not written down was made all the same', () => {
  expect(tally({}, 4)).toMatchObject({ probes: 4, minutes: 4 });
});

test('parts without a fault at them were wasted', () => {
  const replace = (target: string): Case['actions'][number] => ({
    ...plainAction,
    id: 'a1',
    kind: 'replace',
    target,
    circuit: null,
  });
  const seen = { ...run('usb-c', 'connected'), after: 'a1' };
  expect(tally({ actions: [replace('storage-chip')], runs: [seen] }).wasted).toBe(0);
  expect(tally({ actions: [replace('memory-chip')], runs: [seen] }).wasted).toBeGreaterThan(0);
  // Before anything was looked at the sum would tell what a test has to show.
  expect(tally({ actions: [replace('memory-chip')] }).wasted).toBe(0);
  const over = tallyOf({ ...empty, actions: [replace('memory-chip')] }, phone, faults, 0, usualShop, true);
  expect(over.wasted).toBeGreaterThan(0);
});

test.each([
  ['above-the-rail', { injections: [{ ...plainInjection, id: 'i1', rail: 'io', setV: 5 }] }],
  ['swollen-charged', { runs: [run('usb-c', 'connected')], intake: { ...empty.intake, batterySwollen: true } }],
  ['burnt', { actions: [{ ...plainAction, id: 'a1', kind: 'burn', target: 'io', circuit: null }] }],
  [
    'no-dump',
    {
      actions: [
        { ...plainAction, id: 'a1', kind: 'reload-firmware', target: 'boot-data', circuit: null, without: ['no copy'] },
      ],
    },
  ],
] as [string, Partial<Case>][])('the risk %s is noted', (id, value) => {
  expect(tally(value).risks.map((r) => r.id)).toEqual([id]);
});

test('what stays within its bounds is no risk', () => {
  const injections = [{ ...plainInjection, id: 'i1', rail: 'io', setV: 1.8 }];
  const away = { ...empty.intake, batterySwollen: true, batteryIsolated: true };
  expect(tally({ injections, runs: [run('usb-c', 'absent')], intake: away }).risks).toEqual([]);
});
