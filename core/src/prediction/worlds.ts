import { checkIds, checkTypes, type CheckId, type DeviceClass, patternIds, feedVolts } from '../catalogue/index.ts';
import { hypothesesOf, type Hypothesis } from '../hypotheses/index.ts';
import { drawDevices, populationFor, type DrawnDevice } from '../population/index.ts';
import { seededRandom, type Random } from '../trace/index.ts';
import { recognisePatterns, type Expectation, type RunContext, type Shape } from '../shape/index.ts';
import {
  compileProfile,
  makeWorkspace,
  startUp,
  usualSetup,
  type Board,
  type Profile,
  type StartUp,
  type TwinSetup,
  type Workspace,
} from '../twin/index.ts';

import { classFigures, startWindows } from './expectation.ts';
import fit from './fit.json';
import { featuresOf } from './predict.ts';
import setups from './setups.json';
import { predictOutcome } from './predict-outcome.ts';
import { hasSymptom } from './symptom.ts';
import { Trial } from './trial.ts';
import settings from './worlds.json';

/** A share of 1 in a byte of the table. */
const fullByte = 255;

/** A usual way to make a run, in which every world is started beforehand. */
type UsualSetup = (typeof settings.setups)[number];

/** What is kept of a device of a population beside what it shows. */
interface PopulationDevice {
  /** Which option it has, by id of the alternative. */
  choices: Record<string, string>;
  chargeShare: number;
  /** What its main rail stands at when it runs from its battery or its own supply, volts. */
  mainV: number;
}

/**
 * Everything that a population shows, worked out once: a world is a device of it with one fault. Arrays by world unless
 * said otherwise.
 */
export interface Worlds {
  devices: PopulationDevice[];
  device: Uint8Array;
  /** Index in `circuitIds`. */
  circuit: Uint8Array;
  /** Probability within its circuit before anything was seen; sums to 1 for every circuit that has a world. */
  share: Float32Array;
  /** By usual setup: 255 times the probability of every pattern, worlds × patterns; null where no device has the feed. */
  patterns: Record<string, Uint8Array | null>;
  /** By check: 1 + the index of the outcome, 0 where nothing can be said. */
  checks: Partial<Record<CheckId, Uint8Array>>;
}

const instrument = settings.instrument;

/** Draws the population of a class profile and starts all of it. Takes seconds: whoever can keeps what it gives. */
export function makeWorlds(profile: Profile): Worlds | null {
  const population = populationFor(profile.id);
  if (!population) return null;
  const random = seededRandom(population.seed);
  const drawn = drawDevices(population, profile).map((device) => deviceWorlds(device, profile.class, random));
  const count = drawn.reduce((sum, d) => sum + d.hypotheses.length, 0);
  const worlds: Worlds = {
    devices: drawn.map(({ device: { profile: of, choices, chargeShare } }) => ({
      choices,
      chargeShare,
      mainV: of.rails.find((r) => r.circuit === 'rail.main')?.nominalV ?? 0,
    })),
    device: new Uint8Array(count),
    circuit: new Uint8Array(count),
    share: new Float32Array(count),
    patterns: {},
    checks: {},
  };
  for (const setup of settings.setups)
    worlds.patterns[setup.id] = drawn.some((d) => d.patterns[setup.id] !== null)
      ? new Uint8Array(count * patternIds.length)
      : null;
  for (const check of predictedChecks) worlds.checks[check] = new Uint8Array(count);
  let w = 0;
  drawn.forEach((d, k) => {
    d.hypotheses.forEach((hypothesis, h) => {
      worlds.device[w] = k;
      worlds.circuit[w] = hypothesis.index;
      worlds.share[w] = hypothesis.share / drawn.length;
      for (const setup of settings.setups) {
        const shown = d.patterns[setup.id]?.[h];
        if (shown) worlds.patterns[setup.id]?.set(shown, w * patternIds.length);
      }
      for (const check of predictedChecks) (worlds.checks[check] as Uint8Array)[w] = d.checks[check]?.[h] ?? 0;
      w++;
    });
  });
  return normalised(worlds);
}

/** A circuit that only some of the devices have an element of shares its probability among those. */
function normalised(worlds: Worlds): Worlds {
  const total = new Map<number, number>();
  worlds.circuit.forEach((c, w) => total.set(c, (total.get(c) ?? 0) + worlds.share[w]));
  worlds.circuit.forEach((c, w) => (worlds.share[w] /= total.get(c) ?? 1));
  return worlds;
}

/** Checks whose outcome the start-ups tell. */
const predictedChecks = checkIds.filter((id) => checkTypes[id].outcomes.length > 0);

interface DeviceWorlds {
  device: DrawnDevice;
  hypotheses: Hypothesis[];
  patterns: Record<string, (Uint8Array | null)[] | null>;
  checks: Partial<Record<CheckId, number[]>>;
}

/**
 * At most so many faults of each circuit, so that a circuit with many rails takes no more time than one with few: drawn
 * systematically by share, each then with the same share.
 */
function someOf(all: readonly Hypothesis[], most: number, random: Random): Hypothesis[] {
  const byCircuit = new Map<number, Hypothesis[]>();
  for (const h of all) byCircuit.set(h.index, [...(byCircuit.get(h.index) ?? []), h]);
  return [...byCircuit.values()].flatMap((list) => {
    if (list.length <= most) return list;
    const step = 1 / most;
    let next = random() * step;
    let sum = 0;
    return list.flatMap((h) => {
      sum += h.share;
      const drawn: Hypothesis[] = [];
      for (; next < sum && drawn.length < most; next += step) drawn.push({ ...h, share: step });
      return drawn;
    });
  });
}

function deviceWorlds(device: DrawnDevice, deviceClass: string, random: Random): DeviceWorlds {
  const board = compileProfile(device.profile);
  const workspace = makeWorkspace(board);
  const possible = hypothesesOf(device.profile).filter((h) => h.fault !== null);
  const all = someOf(possible, settings.faultsOfCircuit, random);
  const trials = all.map((h) => new Trial(board, h.fault ? [h.fault] : [], workspace));
  const hypotheses = all.map((h, k) =>
    h.circuit === 'none' || hasSymptom(trials[k]) ? h : { ...h, share: h.share * fit.unnoticed },
  );
  const context = contextOf(board, workspace, deviceClass);
  const patterns: DeviceWorlds['patterns'] = {};
  for (const usual of settings.setups) {
    const setup = setupOf(usual, device, board);
    patterns[usual.id] =
      setup &&
      hypotheses.map((h) => {
        const start = startUp(board, h.fault ? [h.fault] : [], setup, workspace);
        return packed(start, setup, { ...context, ...asked(usual, setup) });
      });
  }
  const checks: DeviceWorlds['checks'] = {};
  for (const check of predictedChecks)
    checks[check] = trials.map((trial) => 1 + checkTypes[check].outcomes.indexOf(predictOutcome(trial, check) ?? ''));
  return { device, hypotheses, patterns, checks };
}

/** The usual setup on one device; null where it has no such feed. */
function setupOf(usual: UsualSetup, device: DrawnDevice, board: Board): TwinSetup | null {
  const { battery, ports, dcIn } = board.profile;
  const feed = usual.feed as TwinSetup['feed'];
  if (feed === 'battery' ? !battery : feed === 'usb-c' ? ports.length === 0 : !dcIn) return null;
  const batteryV = battery && battery.emptyV + device.chargeShare * (battery.fullV - battery.emptyV);
  return {
    ...usualSetup,
    feed,
    limitA: feed === 'usb-c' ? null : settings.limitA,
    battery: usual.battery && battery !== null,
    batteryV: usual.battery ? batteryV : null,
    state: usual.state as TwinSetup['state'],
    onS: settings.onS,
    promptS: usual.pressed ? settings.pressedS : null,
    seconds: settings.seconds,
  };
}

function asked(usual: UsualSetup, setup: TwinSetup): Pick<RunContext, 'feed' | 'battery' | 'batteryV' | 'deviceState'> {
  return {
    feed: setup.feed,
    battery: setup.battery ? 'connected' : 'disconnected',
    batteryV: setup.batteryV,
    deviceState: usual.state as RunContext['deviceState'],
  };
}

/** What the recogniser would say of a start-up, in 255ths. */
function packed(start: StartUp, setup: TwinSetup, context: RunContext): Uint8Array {
  const shape = { features: featuresOf(start, setup, instrument) } as Shape;
  const out = new Uint8Array(patternIds.length);
  for (const { id, p } of recognisePatterns(shape, context))
    if (p >= settings.minShown) out[patternIds.indexOf(id)] = Math.round(fullByte * p);
  return out;
}

/** What a healthy unit of this device draws, as somebody would know it who has had another one on the bench. */
function contextOf(board: Board, workspace: Workspace, deviceClass: string): RunContext {
  const { profile } = board;
  const figures = classFigures(deviceClass as DeviceClass);
  const healthy = new Trial(board, [], workspace);
  const benched = healthy.bench();
  const setup = { ...usualSetup, promptS: settings.pressedS, seconds: settings.seconds };
  const seen = benched && featuresOf(benched, setup, instrument);
  const charged = profile.battery
    ? healthy.outside({ promptS: null, batteryV: 0.5 * (profile.battery.emptyV + profile.battery.nominalV) })
    : null;
  const chargeW = charged?.segments.reduce((most, s) => Math.max(most, s.meanA * s.volts), 0) ?? 0;
  const contractV = profile.ports[0]?.contracts.at(-1) ?? figures.contractV;
  const cells = profile.battery ? Math.max(1, Math.round(profile.battery.nominalV / setups.cellV)) : 1;
  const expectation: Expectation = {
    quiescentW: Math.max(1e-4, seen?.before?.levelW ?? figures.quiescentA * figures.batteryV),
    startPeakW: seen?.after?.peakW ?? figures.startPeakA * figures.batteryV,
    idleW: Math.max(1e-3, seen?.after?.tailW ?? figures.idleA * figures.batteryV),
    chargeW: chargeW > 0 ? chargeW : figures.chargeA * figures.contractV,
    contractV,
    raises: contractV > feedVolts.raisedFrom ? 1 : 0,
    startsOnPower: profile.startsOnPower,
    allowance: setups.statedAllowance,
    ...startWindows(figures, seen?.after?.peakW ?? null),
    chargeFromW: setups.chargeShare * (chargeW > 0 ? chargeW : figures.chargeA * figures.contractV),
  };
  return {
    feed: 'battery',
    quantity: 'current',
    battery: null,
    batteryV: null,
    fullV: cells * setups.fullCellV,
    emptyV: cells * setups.emptyCellV,
    deviceState: 'off',
    question: null,
    expectation,
  };
}
