import {
  circuitIds,
  patternTypes,
  type CircuitId,
  type ComplaintKind,
  type DeviceClass,
  type FaultKind,
} from '../catalogue/index.ts';
import { bareCase, emptyIntake, type Intake } from '../case/index.ts';
import { hypothesesOf, type Hypothesis } from '../hypotheses/index.ts';
import { drawDevices, populationFor, soundUnit, type Spread } from '../population/index.ts';
import { hasSymptom, Trial } from '../prediction/index.ts';
import { type Random } from '../trace/index.ts';
import { compileProfile, makeWorkspace, sayFault, targetOf, type Fault, type Profile } from '../twin/index.ts';
import { complaintOf, drawFault } from './draw-fault.ts';
import settings from './unit.json';
import { usualRun, type UsualFeed } from './usual-run.ts';

/** A device with a fault that only the virtual bench knows. */
export interface PracticeUnit {
  /** The device as it lies there, which its profile does not quite describe. */
  device: Profile;
  faults: Fault[];
  /** What there is to find. */
  circuit: CircuitId;
  /** The fault in words: "always-on converter: dead". */
  says: string;
  complaintKind: ComplaintKind | null;
  intake: Intake;
}

/** What a unit may be asked to be. */
export interface UnitWish {
  /** A profile of the shop, or the generic one of a class. */
  profile: Profile;
  /** What there is to find; any that shows, by base rate, where left out. */
  circuit?: CircuitId | null;
  /** Id of the element that it is at; any of its circuit where left out. */
  at?: string | null;
  /** Kinds of fault that it may be; any where left out. */
  kinds?: readonly FaultKind[] | null;
  /** A fault in particular; its circuit is the answer. */
  fault?: Fault | null;
  /** How bad it is: by chance where left out. */
  severity?: 'slight' | 'hard' | null;
  /** Fed like this its draw is not that of a sound device; anywhere, or in use, where left out. */
  seenOn?: UsualFeed | null;
}

/** Circuits that a unit of this profile can have a fault of, in the order of the catalogue. */
export function practicableCircuits(profile: Profile): CircuitId[] {
  const there = new Set(hypothesesOf(profile).flatMap((h) => (h.fault === null ? [] : [h.circuit])));
  return circuitIds.filter((id) => there.has(id));
}

/**
 * Makes up a unit: a device near its profile, or any of its class, with a fault that shows.
 *
 * @param random seeded: the same seed gives the same unit
 * @throws {RangeError} for a circuit that the profile has no element of
 */
export function drawUnit(wish: UnitWish, random: Random): PracticeUnit {
  const device = drawDevice(wish.profile, random);
  const trialOf = trialsOn(device);
  const value = { ...bareCase(deviceOf(wish.profile), [], 'practice'), intake: intakeOf(random) };
  const drawn = wish.fault ? known(device, wish.fault) : chosen(wish, device, value, random, trialOf);
  const faults = drawn.circuit === 'none' ? [] : [drawn.fault];
  const intake = { ...value.intake, batterySwollen: device.battery !== null && random() < settings.swollenShare };
  return {
    device,
    faults,
    circuit: drawn.circuit,
    says: drawn.circuit === 'none' ? 'its power supply is fine' : sayFault(device, drawn.fault),
    complaintKind: complaintOf(trialOf(faults), drawn.circuit, random),
    intake,
  };
}

type Drawn = Pick<Hypothesis, 'circuit'> & { fault: Fault };

function trialsOn(device: Profile): (faults: readonly Fault[]) => Trial {
  const board = compileProfile(device);
  const workspace = makeWorkspace(board);
  return (faults) => new Trial(board, faults, workspace);
}

const deviceOf = (profile: Profile) => ({
  class: profile.class as DeviceClass,
  model: profile.generic ? '' : profile.name,
  profile: profile.generic ? null : profile.id,
});

function intakeOf(random: Random): Intake {
  const { liquid, dropped, priorRepair } = settings.intake;
  return {
    ...emptyIntake,
    liquid: random() < liquid,
    dropped: random() < dropped,
    priorRepair: random() < priorRepair,
  };
}

/** One of its class where nobody knows the model, else one that left the same factory. */
function drawDevice(profile: Profile, random: Random): Profile {
  const population = profile.generic ? populationFor(profile.id) : null;
  if (!population) return soundUnit(profile, random, settings.modelSpread satisfies Spread);
  const devices = drawDevices(population, profile);
  return devices[Math.floor(random() * devices.length)].profile;
}

function known(device: Profile, fault: Fault): Drawn {
  if (fault.kind === 'none') return { circuit: 'none', fault };
  const target = targetOf(device, fault.at);
  if (!target) throw new RangeError(`Fault: this device has no "${fault.at}".`);
  return { circuit: target.circuit, fault };
}

/** A fault that shows. Of a circuit in which none does, the one that was drawn last. */
function chosen(
  wish: UnitWish,
  device: Profile,
  value: Parameters<typeof drawFault>[0],
  random: Random,
  trialOf: (faults: readonly Fault[]) => Trial,
): Drawn {
  const { circuit = null, severity = null } = wish;
  if (circuit === 'none') return { circuit, fault: { kind: 'none', at: '', value: null, side: null } };
  const draw = (): Drawn =>
    circuit === null ? drawFault(value, device, random) : ofCircuit(device, circuit, wish, random);
  const shows = (fault: Fault): boolean =>
    hasSymptom(trialOf([fault])) && (!wish.seenOn || isSeen(device, fault, wish.seenOn, random));
  let drawn = draw();
  for (let k = 0; k < settings.tries; k++) {
    const isRight = circuit !== null || drawn.circuit !== 'none' || random() < settings.healthyShare;
    if (isRight && (drawn.circuit === 'none' || shows(severe(drawn.fault, severity)))) break;
    drawn = draw();
  }
  return { ...drawn, fault: severe(drawn.fault, severity) };
}

/** Whether the run of a feed says that something is wrong. */
function isSeen(device: Profile, fault: Fault, on: UsualFeed, random: Random): boolean {
  return patternTypes[usualRun(device, [fault], on, random).pattern].healthyWhen === undefined;
}

function ofCircuit(device: Profile, circuit: CircuitId, { at, kinds }: UnitWish, random: Random): Drawn {
  const list = hypothesesOf(device).filter((h): h is Hypothesis & { fault: Fault } => h.fault !== null);
  const all = list.filter((h) => h.circuit === circuit);
  // What the device has not is let go, one wish after the other.
  const there = all.filter((h) => h.fault.at === at);
  const place = there.length > 0 ? there : all;
  const wished = place.filter((h) => kinds?.includes(h.fault.kind));
  const own = wished.length > 0 ? wished : place;
  if (own.length === 0) throw new RangeError(`Circuit: this device has no part of "${circuit}" that could fail.`);
  let left = random() * own.reduce((sum, h) => sum + h.share, 0);
  return own.find((h) => (left -= h.share) <= 0) ?? own[own.length - 1];
}

/** The same fault, slight or hard: only shorts and contacts come in degrees. */
function severe(fault: Fault, severity: UnitWish['severity']): Fault {
  const value = severity
    ? (settings.severities[severity] as Record<string, number | undefined>)[fault.kind]
    : undefined;
  return value === undefined ? fault : { ...fault, value };
}
