import { feedVolts } from '../catalogue/index.ts';
import type { Case, Device, Run } from '../case/index.ts';
import type { Expectation, RunContext } from '../shape/index.ts';
import type { DescribeOptions } from '../shape/index.ts';
import classes from './classes.json';
import setups from './setups.json';

/** Share by which two units of one model, or one unit twice, differ on this bench. */
export const repeatability = setups.repeatability;

export interface ClassFigures {
  quiescentA: number;
  startPeakA: number;
  idleA: number;
  chargeA: number;
  contractV: number;
  raises: number;
  dcV: number;
  ports: number;
  startsWithoutBattery: boolean;
  startsOnPower: boolean;
  batteryV: number;
  fan: boolean;
  battery: boolean;
  family: string;
  allowance: number;
  /** Watts at the feed that a healthy start peaks at, and that it settles at, for devices of the class: from, to. */
  startW: readonly [number, number];
  settledW: readonly [number, number];
  /** Watts from which a charge on a raised contract is one as it should be, whatever the model. */
  chargeFromW: number;
}

/** Generic figures of a class of device. */
export function classFigures(deviceClass: Device['class']): ClassFigures {
  return classes[deviceClass] as unknown as ClassFigures;
}

/** Watts that a healthy start peaks at and settles at: around what is known of the model, else as its class does. */
export function startWindows(figures: ClassFigures, knownPeakW: number | null) {
  const [startFromW, startToW] =
    knownPeakW === null ? figures.startW : setups.statedStart.map((share) => share * knownPeakW);
  return {
    startFromW,
    startToW,
    settledFromW: figures.settledW[0],
    settledToW: Math.max(figures.settledW[1], startToW),
  };
}

/** Generic figures of the device's class, with what is stated for this model over them. */
export function figuresOf(device: Device): ClassFigures {
  const generic = classFigures(device.class);
  const { extra: _kept, ...stated } = device.expect;
  const known = Object.fromEntries(Object.entries(stated).filter(([, value]) => value !== undefined));
  const merged: ClassFigures = { ...generic, ...known };
  if (device.expect.contractV !== undefined) merged.raises = device.expect.contractV > feedVolts.raisedFrom ? 1 : 0;
  if (device.expect.startPeakA !== undefined) merged.allowance = setups.statedAllowance;
  return merged;
}

/** What a healthy unit draws in the setup of one run, in watts at the feed. */
function expectationFor(device: Device, run: Run): Expectation {
  const figures = figuresOf(device);
  const { assembly, display } = run.setup;
  const window = startWindows(
    figures,
    device.expect.startPeakA === undefined ? null : figures.startPeakA * figures.batteryV,
  );
  const scale = (assembly ? setups.assembly[assembly] : 1) * (display ? setups.display[display] : 1);
  return {
    quiescentW: Math.max(1e-4, figures.quiescentA * figures.batteryV),
    startPeakW: figures.startPeakA * figures.batteryV * scale,
    idleW: Math.max(1e-3, figures.idleA * figures.batteryV * scale),
    chargeW: figures.chargeA * figures.contractV,
    contractV: figures.contractV,
    raises: figures.raises,
    startsOnPower: figures.startsOnPower,
    allowance: figures.allowance,
    ...window,
    startFromW: window.startFromW * scale,
    settledFromW: window.settledFromW * scale,
    chargeFromW:
      device.expect.chargeA === undefined
        ? Math.min(figures.chargeFromW, setups.chargeShare * figures.chargeA * figures.contractV)
        : setups.chargeShare * figures.chargeA * figures.contractV,
  };
}

const questions: Record<string, RunContext['question']> = {
  'no-start': 'start',
  'no-picture': 'start',
  restarts: 'start',
  'no-charge': 'charge',
  'slow-charge': 'charge',
  drain: 'drain',
};

/** Whether a pack is in, whosever it is. */
const packIn = ({ battery }: Run['setup']): RunContext['battery'] => (battery === 'known-good' ? 'connected' : battery);

/** Everything the pattern depends on beside the trace. */
export function contextFor(value: Pick<Case, 'device' | 'complaintKind'>, run: Run): RunContext {
  const figures = figuresOf(value.device);
  const cells = Math.max(1, Math.round(figures.batteryV / setups.cellV));
  return {
    feed: run.feed,
    quantity: run.quantity,
    battery: packIn(run.setup) ?? (figures.battery ? null : 'absent'),
    batteryV: run.setup.batteryV,
    fullV: cells * setups.fullCellV,
    emptyV: cells * setups.emptyCellV,
    deviceState: run.setup.deviceState,
    question: value.complaintKind ? (questions[value.complaintKind] ?? null) : null,
    expectation: expectationFor(value.device, run),
  };
}

/** Options for describing the run's shape. */
export function describeOptionsFor(device: Device, run: Run): DescribeOptions {
  const figures = figuresOf(device);
  const usual = run.feed === 'battery' ? figures.batteryV : run.feed === 'usb-c' ? feedVolts.plainUsb : figures.dcV;
  return {
    feedV: run.setup.setV ?? usual,
    startsOnPower: figures.startsOnPower,
    alreadyOn: run.setup.deviceState === 'running' || run.setup.deviceState === 'asleep',
  };
}

/** A moment of the band that a healthy unit draws within. Seconds after the press (negative before it), amperes. */
export interface BandStep {
  fromS: number;
  low: number;
  high: number;
}

/**
 * The expected band of a start in this setup, to be drawn behind the run. Amperes at the run's feed voltage.
 *
 * @param feedV volts at the feed, above 0
 * @returns steps in seconds after the press and amperes
 */
export function healthyBand(device: Device, run: Run, feedV: number): BandStep[] {
  const e = expectationFor(device, run);
  const volts = Math.max(feedV, 0.5);
  const rest = e.quiescentW / volts;
  const peak = e.startPeakW / volts;
  const before: BandStep =
    run.feed === 'battery'
      ? { fromS: -Infinity, low: 0, high: rest * 2 }
      : { fromS: -Infinity, low: 0, high: setups.unpoweredW / volts };
  return [before, ...setups.healthyStart.map((s) => ({ fromS: s.fromS, low: s.low * peak, high: s.high * peak }))];
}

/**
 * The current that a healthy unit reaches on a feed: the height of the picture in which small draws look small. Amperes.
 *
 * @param device its class, and what is stated of the model
 * @param feed how it is powered
 */
export function fullScaleA(device: Device, feed: Run['feed']): number {
  const figures = figuresOf(device);
  const peakW = figures.startPeakA * figures.batteryV;
  if (feed === 'battery') return figures.startPeakA;
  return feed === 'usb-c' ? figures.chargeA : peakW / figures.dcV;
}
