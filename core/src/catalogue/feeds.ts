import volts from './feed-volts.json';
import type { Named } from './jobs.ts';

const catalogue = {
  battery: { name: 'battery feed' },
  'usb-c': { name: 'USB-C' },
  'dc-in': { name: 'DC input' },
} as const satisfies Readonly<Record<string, Named>>;

/** How the device is powered while it is watched. */
export type Feed = keyof typeof catalogue;
export const feedTypes: Readonly<Record<Feed, Named>> = catalogue;
export const feeds = Object.keys(catalogue) as Feed[];

/** Volts of a USB-C port without a contract, from which a contract is a raised one, and of a feed of which nothing is known. */
export const feedVolts: Readonly<Record<'plainUsb' | 'raisedFrom' | 'unknown', number>> = volts;
