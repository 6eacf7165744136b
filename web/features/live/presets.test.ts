import { bareCase, shippedProfiles } from '@umbral/core';
import { setupFormOf } from '@/features/record/setup-form';
import { presetsOf } from './presets';

const { device } = bareCase({ class: 'phone' }, []);
const withBattery = shippedProfiles.find((p) => p.battery && p.ports.length > 0)!;
const names = (list: ReturnType<typeof presetsOf>): string[] => list.map((p) => p.name);

describe('setups that recur', () => {
  test('the last run comes first', () => {
    const last = { ...setupFormOf(null), feed: 'usb-c' as const };
    expect(names(presetsOf(device, withBattery, last))[0]).toBe('Same as the last run');
    expect(presetsOf(device, withBattery, last)[0].form).toBe(last);
  });

  test.each(shippedProfiles.map((p) => [p.id, p] as const))('%s: each is one that the model can have', (_, profile) => {
    const presets = presetsOf(device, profile, null);
    expect(presets.length).toBeGreaterThan(0);
    for (const { form } of presets) {
      if (form.feed === 'battery') {
        expect(form.battery).toBe('disconnected');
        expect(form.setV).toBe(`${profile.battery?.nominalV} V`);
      }
      if (form.feed === 'dc-in') expect(Number.parseFloat(form.setV)).toBe(profile.dcIn?.volts);
      if (form.feed === 'usb-c') expect(profile.ports.length).toBeGreaterThan(0);
      if (!profile.battery) expect(form.battery).toBe('absent');
    }
    expect(new Set(names(presets)).size).toBe(presets.length);
  });

  test('what was set last at a feed stands there again', () => {
    const lastSet = { battery: { setV: '4.1 V', limitA: '1.5 A' }, 'dc-in': { setV: '15 V', limitA: '2 A' } };
    const [battery] = presetsOf(device, null, null, lastSet);
    expect(battery.form).toMatchObject({ feed: 'battery', setV: '4.1 V', limitA: '1.5 A' });
    const [socket] = presetsOf({ ...device, class: 'console' }, null, null, lastSet);
    expect(socket.form).toMatchObject({ feed: 'dc-in', setV: '15 V', limitA: '2 A' });
  });

  test('without a profile the class decides', () => {
    expect(names(presetsOf(device, null, null))).toContain('Supply in place of the battery');
    expect(names(presetsOf({ ...device, class: 'console' }, null, null))[0]).toBe('Supply at the input socket');
  });
});
