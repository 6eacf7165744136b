import { countOf } from '../quantity/index.ts';
import type { Run } from '../case/index.ts';
import type { Random, Trace } from '../trace/index.ts';
import {
  compileProfile,
  instrumentOf,
  markersOf,
  recordStartUp,
  startUp,
  usualSetup,
  type Fault,
  type InstrumentName,
  type Profile,
  type TwinSetup,
} from '../twin/index.ts';
import { recordedRun } from './recorded-run.ts';
import settings from './power-on.json';

/** Instruments that a run of each feed is recorded with on a bench. */
export const instrumentsOf: Readonly<Record<TwinSetup['feed'], readonly InstrumentName[]>> = {
  battery: ['display', 'bench-logger', 'probe'],
  'usb-c': ['usb-meter', 'coarse-meter'],
  'dc-in': ['display', 'bench-logger'],
};

/** How somebody feeds a practice unit and presses its button. Volts, amperes, seconds. */
export interface PowerOn {
  feed: TwinSetup['feed'];
  instrument: InstrumentName;
  /** What a supply is set to; null for the usual of the device. Without meaning on USB-C. */
  setV: number | null;
  limitA: number | null;
  /** From 1. */
  port: number;
  flipped: boolean;
  /** The device's own battery is connected. */
  battery: boolean;
  /** False where it is only fed, and watched. */
  presses: boolean;
  /** Ids of peripherals that are unplugged. */
  unplugged: readonly string[];
}

/** Feeds that a device has, the plainest first. */
export function feedsOf(profile: Profile): TwinSetup['feed'][] {
  return [
    ...(profile.ports.length > 0 ? (['usb-c'] as const) : []),
    ...(profile.dcIn ? (['dc-in'] as const) : []),
    ...(profile.battery ? (['battery'] as const) : []),
  ];
}

/**
 * What is wrong with a setup before anything is switched on.
 *
 * @returns a sentence with the place and what is expected; null where it can be switched on
 */
export function refusedPowerOn(profile: Profile, on: PowerOn): string | null {
  if (!feedsOf(profile).includes(on.feed)) return `Feed: this device has no ${settings.feedWords[on.feed]}.`;
  if (!instrumentsOf[on.feed].includes(on.instrument))
    return `Instrument: "${on.instrument}" cannot measure this feed; expected ${instrumentsOf[on.feed].join(' or ')}.`;
  if (on.feed === 'usb-c' && !profile.ports[on.port - 1])
    return `Port: this device has ${countOf(profile.ports.length, 'port')}.`;
  const { maxV, maxA } = settings;
  if (on.feed !== 'usb-c' && on.setV !== null && !(on.setV > 0 && on.setV <= maxV))
    return `Volts: expected more than 0 and at most ${maxV}.`;
  if (on.feed !== 'usb-c' && on.limitA !== null && !(on.limitA > 0 && on.limitA <= maxA))
    return `Limit: expected more than 0 and at most ${maxA} A.`;
  const foreign = on.unplugged.find((id) => !profile.peripherals.some((p) => p.id === id));
  return foreign === undefined ? null : `Unplugged: "${foreign}" cannot be unplugged here.`;
}

/** A run of a practice unit, with the samples that its instrument logged. */
export interface RecordedPower {
  run: Run;
  trace: Trace;
}

/**
 * Feeds a unit, presses its button and records what it draws.
 *
 * @param faults that are still in it
 * @param off ids of parts that are off the board
 * @param random seeded: the same seed gives the same samples
 * @throws {RangeError} where {@link refusedPowerOn} says why it cannot be
 */
export function powerOn(
  device: Profile,
  faults: readonly Fault[],
  off: readonly string[],
  on: PowerOn,
  id: string,
  random: Random,
): RecordedPower {
  const refused = refusedPowerOn(device, on);
  if (refused !== null) throw new RangeError(refused);
  const setup = twinSetup(device, on, off);
  const start = startUp(compileProfile(device), faults, setup);
  const trace = recordStartUp(start, setup, instrumentOf(on.instrument), random);
  const run = recordedRun(id, setup, trace.instrument, markersOf(setup));
  const names = device.peripherals.filter((p) => on.unplugged.includes(p.id)).map((p) => p.name);
  return { run: { ...run, setup: { ...run.setup, unplugged: names } }, trace };
}

const usualV = (device: Profile, feed: 'battery' | 'dc-in'): number | null =>
  (feed === 'battery' ? device.battery?.nominalV : device.dcIn?.volts) ?? null;

function twinSetup(device: Profile, on: PowerOn, off: readonly string[]): TwinSetup {
  const { onS, promptS, plugPromptS, seconds, slowSeconds } = settings;
  return {
    ...usualSetup,
    feed: on.feed,
    // What a supply is set to is known to whoever set it: a draw near the limit with its voltage held is no current limit.
    setV: on.feed === 'usb-c' ? null : (on.setV ?? usualV(device, on.feed)),
    limitA: on.feed === 'usb-c' ? null : (on.limitA ?? usualSetup.limitA),
    port: on.port,
    flipped: on.flipped,
    battery: on.feed !== 'battery' && on.battery && device.battery !== null && !off.includes('battery'),
    unplugged: [...new Set([...on.unplugged, ...off])],
    onS,
    promptS: on.presses ? (on.feed === 'battery' ? promptS : plugPromptS) : null,
    seconds: on.feed === 'battery' ? seconds : slowSeconds,
  };
}
