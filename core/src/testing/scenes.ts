import { circuitIds, type CircuitId, type DeviceClass } from '../catalogue/index.ts';
import { type Case } from '../case/index.ts';
import type { Shape } from '../shape/index.ts';
import { shippedProfile, type Profile } from '../twin/index.ts';
import { actionOf, checkOf, injectionOf, readingOf, typedCase } from './cases.ts';
import { recorded } from './recorded.ts';

/** A case with the shapes of its runs, ready to be believed. */
export interface Scene {
  name: string;
  value: Case;
  shapes: Map<string, Shape>;
}

const typed = (name: string, deviceClass: DeviceClass, lines: string[], over: Partial<Case> = {}): Scene => ({
  name,
  ...typedCase(deviceClass, lines, over),
});

/** Circuits that a device can have at fault: all but the two that accuse nothing. */
export const faultyCircuits = circuitIds.filter((id): id is CircuitId => id !== 'none' && id !== 'unmodelled');

/** Every class of device with a dead unit that was looked at from outside. */
export const deadUnits: Scene[] = [
  typed('phone', 'phone', ['battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold']),
  typed('tablet', 'tablet', ['battery 3.9V limit 2A: 0.05 hold | prompt 0.05 hold']),
  typed('laptop', 'laptop', ['usb-c port 1: 5V 0.07 hold']),
  typed('handheld', 'handheld', ['battery 3.8V: 0 | prompt (0.09 0.3 0) loop 6s']),
  typed('console', 'console', ['dc-in 12V limit 2A: 30mA | prompt 210mA hold']),
  typed('ereader', 'ereader', ['battery 3.9V limit 1A: 0 | prompt 0.03 hold']),
  typed('other', 'other', ['dc-in 9V: 20mA hold | prompt 20mA hold']),
];

/** A unit whose model has a profile of its own. */
export function ownProfileUnit(): Scene {
  const phone = shippedProfile('tallgate-moorcall-2') as Profile;
  const { value, run, shape } = recorded(phone, 'short:io=0.4');
  return { name: 'own profile', value: { ...value, runs: [run] }, shapes: new Map([[run.id, shape]]) };
}

/** A repair that is half done: a short found, the core isolated and joined again, something burnt, a part off. */
export function repairUnderWay(): Scene {
  const dead = 'dc-in 12V limit 2A: 30mA | prompt 210mA hold';
  const scene = typed('repair under way', 'console', [dead, dead], {
    readings: [
      readingOf({ mode: 'resistance', value: 0.4, where: 'main at the coil', circuit: 'rail.main' }),
      readingOf({ mode: 'voltage', value: 3.3, where: 'standby 3.3 V', circuit: 'rail.standby', state: 'S5' }),
    ],
    injections: [
      injectionOf('main at the coil', 1, {
        circuit: 'rail.main',
        amps: 1.6,
        heat: 'one-spot',
        hot: 'C4',
        hotCircuit: 'rail.main',
      }),
    ],
    checks: [checkOf('visual', 'burnt', { where: 'C4', circuit: 'rail.main' })],
    actions: [actionOf('a1', 'isolate', { circuit: 'core.supply', runBefore: 'r1' })],
  });
  scene.value.runs[1].after = 'a1';
  return scene;
}

export const everyScene = (): Scene[] => [...deadUnits, ownProfileUnit(), repairUnderWay()];
