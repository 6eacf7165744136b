import type { Device, Feed, Profile } from '@umbral/core';
import { setupFormOf, type SetupForm } from '@/features/record/setup-form';

/** A setup that one tap or key chooses. */
export interface Preset {
  name: string;
  form: SetupForm;
}

/** Where nothing is known of the model, amperes. */
const usualLimitA = 2;

/** Set voltage and limit of the last run of each feed, as typed. */
export type LastSet = Partial<Record<Feed, Pick<SetupForm, 'setV' | 'limitA'>>>;

/**
 * The setups that recur, the likeliest first: that of the last run, then those the model can have, with what was set last.
 */
export function presetsOf(
  device: Device,
  profile: Profile | null,
  last: SetupForm | null,
  lastSet: LastSet = {},
): Preset[] {
  const volts = profile?.battery?.nominalV ?? device.expect.batteryV;
  const hasBattery = profile ? profile.battery !== undefined && profile.battery !== null : device.class !== 'console';
  const dcV = profile?.dcIn?.volts;
  const own: SetupForm = { ...setupFormOf(null), battery: hasBattery ? null : 'absent' };
  const quantity = (x: number | undefined, unit: string): string => (x ? `${Number(x.toPrecision(4))} ${unit}` : '');
  const presets: Preset[] = last ? [{ name: 'Same as the last run', form: last }] : [];
  if (hasBattery)
    presets.push({
      name: 'Supply in place of the battery',
      form: {
        ...own,
        feed: 'battery',
        setV: lastSet.battery?.setV || quantity(volts, 'V'),
        limitA: lastSet.battery?.limitA || `${usualLimitA} A`,
        battery: 'disconnected',
      },
    });
  if (dcV !== undefined || !hasBattery)
    presets.push({
      name: 'Supply at the input socket',
      form: {
        ...own,
        feed: 'dc-in',
        setV: lastSet['dc-in']?.setV || quantity(dcV, 'V'),
        limitA: lastSet['dc-in']?.limitA || quantity(profile?.dcIn?.limitA, 'A') || '3 A',
      },
    });
  if (!profile || profile.ports.length > 0) {
    if (hasBattery) {
      presets.push({ name: 'USB-C, battery in', form: { ...own, feed: 'usb-c', port: 1, battery: 'connected' } });
      presets.push({ name: 'USB-C, battery out', form: { ...own, feed: 'usb-c', port: 1, battery: 'disconnected' } });
    } else presets.push({ name: 'USB-C', form: { ...own, feed: 'usb-c', port: 1 } });
  }
  return presets;
}
