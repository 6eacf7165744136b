import { bareCase } from '../case/index.ts';
import { shippedProfiles } from '../twin/index.ts';
import { deviceTwinOf } from './device-twin.ts';
import { expectOf, informedBy } from './profile-expect.ts';

const fleet = shippedProfiles.filter((p) => !p.generic);
const twinFor = (id: string, deviceClass: 'phone' | 'laptop' = 'phone') =>
  deviceTwinOf(bareCase({ class: deviceClass, profile: id }, [], 'x').device, []);

describe('figures of a model from its profile', () => {
  test.each(fleet.map((p) => [p.id, p] as const))(
    '%s: rests, peaks, idles and charges as a device does',
    (id, profile) => {
      const e = expectOf(twinFor(id));
      if (profile.battery) {
        expect(e.batteryV).toBe(profile.battery.nominalV);
        expect(e.quiescentA).toBeLessThan(0.05 * (e.idleA ?? 0));
        expect(e.idleA).toBeLessThan(e.startPeakA ?? 0);
        if (profile.ports.length > 0) expect(e.chargeA).toBeGreaterThan(0.1);
      }
      expect(e.ports).toBe(profile.ports.length);
      if (profile.ports.length > 0) expect(e.contractV).toBe(Math.max(...profile.ports.flatMap((p) => p.contracts)));
      else expect(e.dcV).toBe(profile.dcIn?.volts);
    },
  );
  test('what is stated for the unit wins', () => {
    const value = bareCase({ class: 'phone', profile: fleet[0].id, expect: { idleA: 0.123 } }, [], 'x');
    const informed = informedBy(value, twinFor(fleet[0].id));
    expect(informed.device.expect.idleA).toBe(0.123);
    expect(informed.device.expect.startPeakA).toBeGreaterThan(0.123);
  });
  test('a generic profile tells nothing of its own', () => {
    const value = bareCase({ class: 'phone' }, [], 'x');
    expect(informedBy(value, deviceTwinOf(value.device, []))).toBe(value);
  });
});
