import type { Board } from './board.ts';
import { targetOf, type Fault } from './fault.ts';
import settings from './settings.json';
import { filled, type Condition } from './solution.ts';

/** How the device is fed and put together while it starts. Volts, amperes, ohms, seconds. */
export interface TwinSetup {
  feed: 'battery' | 'usb-c' | 'dc-in';
  /** What the source is set to; null for the usual voltage of the feed. Without meaning on USB-C. */
  setV: number | null;
  limitA: number | null;
  /** Leads and connector, in series with the feed. */
  leadOhm: number;
  /** From 1. */
  port: number;
  flipped: boolean;
  /** The device's own battery is connected (on the battery feed the supply stands in its place). */
  battery: boolean;
  batteryV: number | null;
  display: boolean;
  boardAlone: boolean;
  /** Only this half is powered; null for the whole. */
  half: string | null;
  /** Ids of peripherals, loads, converters or parts that are off the board: unplugged or lifted. */
  unplugged: string[];
  /** How the device stood when the run began. */
  state: 'off' | 'asleep' | 'running';
  /** When the source comes on, when power is pressed (null: not at all), and how long the run lasts. */
  onS: number;
  promptS: number | null;
  seconds: number;
}

export const usualSetup: TwinSetup = {
  feed: 'battery',
  setV: null,
  limitA: 3,
  leadOhm: 0.08,
  port: 1,
  flipped: false,
  battery: false,
  batteryV: null,
  display: true,
  boardAlone: false,
  half: null,
  unplugged: [],
  state: 'off',
  onS: 0.5,
  promptS: 4,
  seconds: 20,
};

/** What is constant over a start-up, and what the sequence has to know of the faults. */
export interface Circumstances {
  condition: Condition;
  /** Voltage of the source before any contract; 0 where the feed does not exist on this device. */
  sourceV: number;
  /** Contracts that may be reached, rising. */
  contracts: number[];
  /** Contact or joint that comes and goes. */
  loose: boolean;
  /** Parts that are not there because their half, their peripheral or the display is off. */
  partAbsent: number[];
}

/**
 * Lays faults and setup over a board.
 *
 * @throws {RangeError} for a feed or port that the device does not have
 */
export function conditionOf(board: Board, faults: readonly Fault[], setup: TwinSetup): Circumstances {
  const { profile } = board;
  const none = (list: unknown[]): number[] => filled(list.length, 0);
  const condition: Condition = {
    groundS: filled(profile.rails.length, 0),
    converterDead: none(profile.converters),
    converterShare: filled(profile.converters.length, 1),
    cyclingS: filled(profile.converters.length, 0),
    partMute: none(profile.parts),
    loadAbsent: none(profile.loads),
    contactOhm: setup.leadOhm,
    hotPlug: setup.feed === 'usb-c',
    feedRail: -1,
    setV: 0,
    limitA: Infinity,
    batteryRail: -1,
    batteryV: 0,
    batteryOhm: 0.05,
    chargeShare: 0,
  };
  const out: Circumstances = {
    condition,
    sourceV: 0,
    contracts: [],
    loose: false,
    partAbsent: none(profile.parts),
  };
  feedOf(board, setup, out);
  takeApart(board, setup, out);
  for (const fault of faults) applyFault(board, fault, setup, out);
  for (let p = 0; p < condition.partMute.length; p++) condition.partMute[p] |= out.partAbsent[p];
  const port = setup.feed === 'usb-c' ? profile.ports[setup.port - 1] : null;
  // Nobody asks the source for its voltage: to the device that is an open contact.
  if (port?.busNeedsController && condition.partMute[board.partIndex.get(port.controller) ?? 0])
    condition.contactOhm = Infinity;
  condition.chargeShare = chargeShare(board, setup, condition);
  return out;
}

function feedOf(board: Board, setup: TwinSetup, out: Circumstances): void {
  const { profile, railIndex } = board;
  const { condition } = out;
  const { battery } = profile;
  if (setup.feed === 'battery') {
    if (!battery) throw new RangeError(`${profile.id} has no battery to stand in for`);
    condition.feedRail = railIndex.get(battery.rail) ?? -1;
    out.sourceV = setup.setV ?? battery.nominalV;
    condition.limitA = setup.limitA ?? 5;
    return;
  }
  if (setup.feed === 'usb-c') {
    const port = profile.ports[setup.port - 1];
    if (!port) throw new RangeError(`${profile.id} has no port ${setup.port}`);
    condition.feedRail = railIndex.get(port.rail) ?? -1;
    out.sourceV = 5;
    out.contracts = port.contracts.filter((v) => v > 5);
    condition.limitA = setup.limitA ?? port.limitA;
  } else {
    if (!profile.dcIn) throw new RangeError(`${profile.id} has no DC input`);
    condition.feedRail = railIndex.get(profile.dcIn.rail) ?? -1;
    out.sourceV = setup.setV ?? profile.dcIn.volts;
    condition.limitA = setup.limitA ?? profile.dcIn.limitA;
  }
  if (battery && setup.battery && !setup.boardAlone) {
    condition.batteryRail = railIndex.get(battery.rail) ?? -1;
    condition.batteryV = setup.batteryV ?? battery.nominalV;
    condition.batteryOhm = battery.internalOhm;
  }
}

/** What is not there in this setup. */
function takeApart(board: Board, setup: TwinSetup, out: Circumstances): void {
  const { profile } = board;
  const off = (peripheral: string | null, half: string | null, id: string): boolean =>
    (peripheral !== null && (setup.boardAlone || setup.unplugged.includes(peripheral))) ||
    (setup.half !== null && half !== null && half !== setup.half) ||
    setup.unplugged.includes(id);
  profile.loads.forEach((l, k) => {
    if (off(l.peripheral, l.half, l.id) || (l.ofDisplay && (!setup.display || setup.boardAlone)))
      out.condition.loadAbsent[k] = 1;
  });
  profile.parts.forEach((p, k) => {
    // A board alone is expected to start as far as it can: what is unplugged on purpose is not waited for.
    const half = setup.half !== null && p.half !== null && p.half !== setup.half;
    if (half || (p.role === 'battery-data' && profile.battery?.needed && !setup.battery && setup.feed !== 'battery'))
      out.partAbsent[k] = 1;
    if (setup.unplugged.includes(p.id)) out.partAbsent[k] = 1;
  });
  profile.converters.forEach((c, k) => {
    const half = setup.half !== null && c.half !== null && c.half !== setup.half;
    if (half || setup.unplugged.includes(c.id)) out.condition.converterDead[k] = 1;
  });
}

function applyFault(board: Board, fault: Fault, setup: TwinSetup, out: Circumstances): void {
  if (fault.kind === 'none') return;
  const { profile, railIndex } = board;
  const { condition } = out;
  const target = targetOf(profile, fault.at);
  if (!target) throw new RangeError(`"${fault.at}" is not an element of the profile ${profile.id}`);
  const { element, index } = target;
  const ground = (rail: number): void => {
    condition.groundS[rail] += 1 / Math.max(fault.value ?? 0.5, 1e-3);
  };
  if (fault.kind === 'short') {
    if (element === 'rail') ground(index);
    if (element === 'converter' && !setup.unplugged.includes(fault.at)) ground(board.from[index]);
    if (element === 'load' && !condition.loadAbsent[index]) ground(board.loadRail[index]);
    const away = setup.boardAlone || setup.unplugged.includes(fault.at);
    if (element === 'peripheral' && !away) ground(railIndex.get(profile.peripherals[index].rail) ?? 0);
    return;
  }
  if (element === 'converter') {
    if (fault.kind === 'dead') condition.converterDead[index] = 1;
    if (fault.kind === 'weak') condition.converterShare[index] = fault.value ?? 0.3;
    if (fault.kind === 'cycling') condition.cyclingS[index] = fault.value ?? 0.3;
    return;
  }
  if (element === 'part') {
    if (fault.kind === 'loose') out.loose = true;
    else condition.partMute[index] = 1;
    return;
  }
  if (element === 'peripheral') {
    profile.parts.forEach((p, k) => {
      if (p.peripheral === fault.at) condition.partMute[k] = 1;
    });
    return;
  }
  contactFault(board, fault, element, index, setup, out);
}

function contactFault(
  board: Board,
  fault: Fault,
  element: string,
  index: number,
  setup: TwinSetup,
  out: Circumstances,
): void {
  const { condition } = out;
  if (element === 'battery') {
    batteryFault(board, fault, setup, out);
    return;
  }
  const isThis =
    (element === 'port' && setup.feed === 'usb-c' && setup.port - 1 === index) ||
    (element === 'dc-in' && setup.feed === 'dc-in');
  const thisSide = fault.side === null || (fault.side === 'flipped') === setup.flipped;
  if (!isThis || !thisSide) return;
  if (fault.kind === 'open') condition.contactOhm = Infinity;
  if (fault.kind === 'resistive') condition.contactOhm += fault.value ?? 1;
  if (fault.kind === 'loose') out.loose = true;
}

/** A bad pack shows only while it is connected; a bad battery connector shows on the battery feed too. */
function batteryFault(board: Board, fault: Fault, setup: TwinSetup, out: Circumstances): void {
  const { condition } = out;
  const data = board.profile.battery?.data ?? null;
  const mute = (): void => {
    if (data !== null) condition.partMute[board.partIndex.get(data) ?? 0] = 1;
  };
  if (setup.feed === 'battery') {
    if (fault.kind === 'loose') out.loose = true;
    if (fault.kind === 'resistive') condition.contactOhm += fault.value ?? 1;
    if (fault.kind === 'open') condition.contactOhm = Infinity;
    return;
  }
  if (condition.batteryRail < 0) return;
  if (fault.kind === 'open') {
    condition.batteryRail = -1;
    mute();
  }
  if (fault.kind === 'drained') condition.batteryV = fault.value ?? 2.5;
  if (fault.kind === 'resistive') condition.batteryOhm += fault.value ?? 1;
  if (fault.kind === 'loose') out.loose = true;
}

/** Share of the full charge rate that a pack at this voltage takes: gentle when empty, tapering when full. */
function chargeShare(board: Board, setup: TwinSetup, condition: Condition): number {
  const { battery } = board.profile;
  if (!battery || condition.batteryRail < 0 || setup.feed === 'battery') return 0;
  if (battery.data !== null && condition.partMute[board.partIndex.get(battery.data) ?? 0]) return 0;
  const v = condition.batteryV;
  const internal = Math.min(1, battery.internalOhm / Math.max(condition.batteryOhm, 1e-3));
  if (v < battery.emptyV) return settings.prechargeShare * internal;
  const span = battery.fullV - battery.emptyV;
  const left = (battery.fullV - v) / span;
  return Math.min(1, Math.max(settings.minChargeShare, settings.taper * left)) * Math.min(1, 2 * internal);
}
