import { readTypedRun } from '../formats/index.ts';
import { caseOf } from '../testing/cases.ts';
import { feedVolts } from '../catalogue/index.ts';
import { describe as describeRun } from './assess.ts';
import { oddSetup } from './odd-setup.ts';
import type { Device, Run } from '../case/index.ts';

const phone: Device = caseOf('phone').device;

function asked(line: string, change: Partial<Run> = {}, device: Device = phone, volts: number | null = null): string[] {
  const { run, trace } = readTypedRun(line, 'r1');
  const changed: Run = { ...run, ...change };
  if (volts !== null) trace.v.fill(volts);
  const value = { ...caseOf('phone'), device, runs: [changed] };
  return oddSetup(device, changed, describeRun(value, changed, trace, null));
}

test('what was set is held against what was measured, and both are said', () => {
  expect(asked('battery 3.85V limit 2A: 0 | prompt 0.2 hold', {}, phone, 9)).toEqual([
    'The setup says that the supply was set to 3.85 V, but 9.00 V was measured.',
    'The setup says “battery feed”, but it was fed with 9.00 V. The battery of this device has about 3.85 V.',
  ]);
  expect(asked('battery 3.9V limit 2A: 0 | prompt 0.2 hold', {}, phone, 3.87)).toEqual([]);
});

test('a supply that limits has fallen below what it was set to, and is not asked about', () => {
  expect(asked('battery 3.9V limit 2A: 2 limit', {}, phone, 0.4)).toEqual([]);
});

test('amperes that were milliamperes are asked about, with what was probably meant', () => {
  expect(asked('battery 3.9V limit 2A: 0 | prompt 190A hold')).toEqual([
    'The setup says a limit of 2 A, but 190 A was read. Did you mean 190 mA?',
  ]);
  expect(asked('battery 3.9V: 0 | prompt 47A hold')[0]).toContain('Did you mean 47.0 mA?');
  expect(asked('usb-c port 1: 5V 55A hold')[0]).toContain('Did you mean 55.0 mA?');
  expect(asked('battery 3.9V limit 3A: 0 | prompt 2.9 hold')).toEqual([]);
});

test('a feed that cannot be this one is asked about, by its voltage', () => {
  expect(asked('battery 9V limit 2A: 0 | prompt 0.1 hold')[0]).toContain('it was fed with 9.00 V');
  const port = asked('usb-c port 1: 5V 0.2 hold', {}, phone, 3.85);
  expect(port).toEqual([expect.stringContaining('A USB-C charger supplies at least 5 V.')]);
  // A short on the port pulls the charger down.
  expect(asked('usb-c port 1: 5V 2.4 hold', {}, phone, 2)).toEqual([]);
});

test('a laptop without a stated pack may have any of the usual ones; one that was stated has only its own', () => {
  const laptop = caseOf('laptop').device;
  expect(asked('battery 15.4V limit 3A: 0 | prompt 0.4 hold', {}, laptop)).toEqual([]);
  const stated = { ...laptop, expect: { ...laptop.expect, batteryV: 7.6 } };
  expect(asked('battery 15.4V limit 3A: 0 | prompt 0.4 hold', {}, stated)).toHaveLength(1);
});

test('a contract that was stated is held against the port', () => {
  const pd = { kind: 'pd' as const, volts: 20, amps: 3 };
  expect(asked('usb-c port 1: 5V 0.1 hold', { contract: pd }, phone, 5)[0]).toContain('20.0 V was agreed');
  expect(asked('usb-c port 1: 5V 0.1 hold', { contract: pd }, phone, 19.8)).toEqual([]);
  const none = { kind: 'default-5v' as const, volts: feedVolts.plainUsb, amps: null };
  expect(asked('usb-c port 1: 9V 1.1 hold', { contract: none }, phone, 9)[0]).toContain('no contract was agreed');
});
