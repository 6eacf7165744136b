import { feedVolts } from '../catalogue/index.ts';
import type { Board } from './board.ts';
import { type Circumstances, type TwinSetup } from './setup.ts';
import type { Fault } from './fault.ts';
import { applyFault } from './fault-effects.ts';
import settings from './settings.json';
import { filled, type Condition } from './solution.ts';

/**
 * Lays faults and setup over a board.
 *
 * @param faults none, one, or several at once
 * @param setup feed, port, battery and what is unplugged
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
    condition.limitA = setup.limitA ?? settings.benchLimitA;
    return;
  }
  if (setup.feed === 'usb-c') {
    const port = profile.ports[setup.port - 1];
    if (!port) throw new RangeError(`${profile.id} has no port ${setup.port}`);
    condition.feedRail = railIndex.get(port.rail) ?? -1;
    out.sourceV = 5;
    out.contracts = port.contracts.filter((v) => v > feedVolts.plainUsb);
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
