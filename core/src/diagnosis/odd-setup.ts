import { feedTypes } from '../catalogue/index.ts';
import type { Device, Run } from '../case/index.ts';
import { figuresOf } from '../prediction/index.ts';
import { formatCurrent, formatStatedCurrent, formatVoltage } from '../quantity/index.ts';
import type { Shape } from '../shape/index.ts';
import settings from './odd-setup.json';

/**
 * Where what is said of a run cannot be what was measured in it: another feed, another voltage, a current above the limit,
 * milliamperes taken for amperes. To be asked before the run is kept: the setup is half of what a run means.
 *
 * @returns a sentence with both values for each, none where all agrees
 */
export function oddSetup(device: Device, run: Run, shape: Shape): string[] {
  if (run.quantity === 'voltage-only') return [];
  return [...oddVolts(device, run, shape), ...oddAmps(device, run, shape)];
}

function oddVolts(device: Device, { feed, setup, contract }: Run, { features }: Shape): string[] {
  const { highest } = features.voltage;
  const seen = highest !== null && highest >= settings.fedV ? highest : null;
  if (feed === 'usb-c') return oddPort(seen, contract, features.whole.peakA ?? 0);
  const out: string[] = [];
  const { setV } = setup;
  if (seen !== null && setV !== null && seen > (1 + settings.setWithin) * setV + settings.setWithin)
    out.push(
      `The setup says that the supply was set to ${formatVoltage(setV)}, but ${formatVoltage(seen)} was measured.`,
    );
  const fed = seen ?? setV;
  const stated = device.expect.batteryV;
  const { batteryV, family } = figuresOf(device);
  const over = stated === undefined ? settings.overPack[family as 'mobile' | 'computer'] : settings.overStatedPack;
  if (feed === 'battery' && fed !== null && fed > over * batteryV)
    out.push(
      `The setup says “${feedTypes.battery.name}”, but it was fed with ${formatVoltage(fed)}. The battery of this device has about ${formatVoltage(batteryV)}.`,
    );
  return out;
}

function oddPort(seen: number | null, contract: Run['contract'], peakA: number): string[] {
  if (seen === null) return [];
  // A short pulls a port down as well, and draws what the charger gives.
  if (seen < settings.usbLeastV && peakA < settings.usbWeakA)
    return [
      `The setup says “${feedTypes['usb-c'].name}”, but only ${formatVoltage(seen)} was measured. A USB-C charger supplies at least 5 V.`,
    ];
  const agreed = contract?.kind === 'pd' ? contract.volts : null;
  if (agreed !== null && Math.abs(seen - agreed) > settings.contractWithin * agreed)
    return [`The setup says that ${formatVoltage(agreed)} was agreed, but ${formatVoltage(seen)} was measured.`];
  if (contract?.kind === 'default-5v' && seen > settings.default5V)
    return [`The setup says that no contract was agreed, but ${formatVoltage(seen)} was measured.`];
  return [];
}

function oddAmps(device: Device, { feed, setup }: Run, { segments }: Shape): string[] {
  const held = segments.filter((s) => s.meanA !== null && s.kind !== 'gap');
  const total = held.reduce((sum, s) => sum + s.t1 - s.t0, 0);
  /** The highest level that stood above a bound for more than an instant. */
  const above = (bound: number): number | null => {
    const over = held.filter((s) => s.meanA! > bound);
    const seconds = over.reduce((sum, s) => sum + s.t1 - s.t0, 0);
    return seconds > settings.leastShare * total ? Math.max(...over.map((s) => s.meanA!)) : null;
  };
  const { limitA } = setup;
  const figures = figuresOf(device);
  if (feed !== 'usb-c' && limitA !== null) {
    const seen = above(settings.overLimit * limitA + settings.limitSlackA);
    return seen === null
      ? []
      : [
          `The setup says a limit of ${formatStatedCurrent(limitA)}, but ${formatCurrent(seen)} was read.${meant(seen, limitA)}`,
        ];
  }
  const most = Math.max(settings.usbMostA, feed === 'usb-c' ? 0 : settings.overStart * figures.startPeakA);
  const seen = above(most);
  return seen === null
    ? []
    : [
        `${formatCurrent(seen)} is more than a ${device.class === 'other' ? 'device' : device.class} can draw here.${meant(seen, most)}`,
      ];
}

/** What was probably meant, where a thousandth of it could be. */
const meant = (amps: number, most: number): string =>
  amps / 1000 < most && amps >= 10 ? ` Did you mean ${formatCurrent(amps / 1000)}?` : '';
