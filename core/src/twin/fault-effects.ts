import { faultTypes, type ElementKind, type FaultKind } from '../catalogue/index.ts';
import type { Board } from './board.ts';
import type { Circumstances, TwinSetup } from './setup.ts';
import { targetOf, type Fault } from './fault.ts';

/** Where a fault is, and what it changes there. */
interface Place {
  board: Board;
  element: ElementKind;
  /** Of the element among those of its kind. */
  index: number;
  setup: TwinSetup;
  out: Circumstances;
}

const valueOf = (fault: Fault): number => fault.value ?? faultTypes[fault.kind].value?.usual ?? 0;

/** Whether the contact at fault is the one that feeds the device in this setup. */
function isUsed(fault: Fault, { element, index, setup }: Place): boolean {
  const thisSide = fault.side === null || (fault.side === 'flipped') === setup.flipped;
  if (!thisSide) return false;
  return element === 'port'
    ? setup.feed === 'usb-c' && setup.port - 1 === index
    : element === 'dc-in' && setup.feed === 'dc-in';
}

/** A bad pack shows only while it is connected; a bad battery connector shows on the battery feed too. */
const packOf = ({ setup, out }: Place): 'feed' | 'pack' | null =>
  setup.feed === 'battery' ? 'feed' : out.condition.batteryRail < 0 ? null : 'pack';

const minShortOhm = 1e-3;

function short(fault: Fault, { board, element, index, setup, out }: Place): void {
  const { condition } = out;
  const away = setup.unplugged.includes(fault.at);
  const ground = (rail: number): void => {
    condition.groundS[rail] += 1 / Math.max(valueOf(fault), minShortOhm);
  };
  if (element === 'rail') ground(index);
  else if (element === 'converter' && !away) ground(board.from[index]);
  else if (element === 'load' && !condition.loadAbsent[index]) ground(board.loadRail[index]);
  else if (element === 'peripheral' && !away && !setup.boardAlone)
    ground(board.railIndex.get(board.profile.peripherals[index].rail) ?? 0);
}

function open(fault: Fault, place: Place): void {
  const { board, element, out } = place;
  const { condition } = out;
  if (element === 'peripheral')
    board.profile.parts.forEach((p, k) => {
      if (p.peripheral === fault.at) condition.partMute[k] = 1;
    });
  else if (element !== 'battery') {
    if (isUsed(fault, place)) condition.contactOhm = Infinity;
  } else if (packOf(place) === 'feed') condition.contactOhm = Infinity;
  else if (packOf(place) === 'pack') {
    const data = board.profile.battery?.data ?? null;
    condition.batteryRail = -1;
    if (data !== null) condition.partMute[board.partIndex.get(data) ?? 0] = 1;
  }
}

function resistive(fault: Fault, place: Place): void {
  const { condition } = place.out;
  const isContact = place.element === 'battery' ? packOf(place) === 'feed' : isUsed(fault, place);
  if (isContact) condition.contactOhm += valueOf(fault);
  else if (place.element === 'battery' && packOf(place) === 'pack') condition.batteryOhm += valueOf(fault);
}

function loose(fault: Fault, place: Place): void {
  const { element, out } = place;
  const shows = element === 'part' || (element === 'battery' ? packOf(place) !== null : isUsed(fault, place));
  if (shows) out.loose = true;
}

/** What each kind of fault does to a device. */
const effects: Readonly<Record<FaultKind, (fault: Fault, place: Place) => void>> = {
  none: () => undefined,
  short,
  dead: (_, { index, out }) => (out.condition.converterDead[index] = 1),
  weak: (fault, { index, out }) => (out.condition.converterShare[index] = valueOf(fault)),
  cycling: (fault, { index, out }) => (out.condition.cyclingS[index] = valueOf(fault)),
  mute: (_, { index, out }) => (out.condition.partMute[index] = 1),
  open,
  resistive,
  loose,
  drained: (fault, place) => {
    if (packOf(place) === 'pack') place.out.condition.batteryV = valueOf(fault);
  },
};

/**
 * Lays a fault over a device as it is in a setup.
 *
 * @throws {RangeError} for an element that the profile does not have
 */
export function applyFault(board: Board, fault: Fault, setup: TwinSetup, out: Circumstances): void {
  if (fault.kind === 'none') return;
  const target = targetOf(board.profile, fault.at);
  if (!target) throw new RangeError(`"${fault.at}" is not an element of the profile ${board.profile.id}`);
  effects[fault.kind](fault, { board, element: target.element, index: target.index, setup, out });
}
