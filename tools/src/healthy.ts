import {
  patternTypes,
  type DeviceClass,
  type PatternId,
  bareCase,
  type Case,
  type Run,
  describe,
  readTypedRun,
  hypothesesOf,
  drawDevices,
  type DrawnDevice,
  type Population,
  recordedRun,
  contextFor,
  featuresOf,
  recognisePatterns,
  topPattern,
  type Random,
  type Trace,
  compileProfile,
  makeWorkspace,
  markersOf,
  recordStartUp,
  startUp,
  type Fault,
  type Profile,
  type TwinSetup,
} from '@umbral/core';
import { recognitionInstruments, recognitionSetups } from './recognition.ts';

/** What a start is read through: an instrument, or somebody who types a few numbers off a display. */
export const healthyInstruments = [...Object.keys(recognitionInstruments), 'typed, three to eight numbers'];

const typed = healthyInstruments.at(-1)!;
const typedFrom = 'display, 2 a second, 10 mA';

/** Starts of drawn devices of one class in one setup through one instrument, and how many of them are named healthy. */
interface HealthyCount {
  deviceClass: DeviceClass;
  feed: TwinSetup['feed'];
  battery: boolean;
  instrument: string;
  healthy: number;
  healthyRight: number;
  /** Faults whose start-up, seen as it is, clearly shows something other than health. */
  faulty: number;
  /** Those of them that are named healthy all the same. */
  faultyMissed: number;
  /** What healthy ones were named instead, most often first, with how often. */
  instead: [PatternId, number][];
}

/** How sure the windows must be of a fault's start-up itself before its being missed is an error. */
const clearFrom = 0.7;

/**
 * Draws devices of a class, starts each sound and with some of its faults in every usual setup, with and without its own
 * battery, and names what each instrument shows of it.
 *
 * @param profile the one that stands for the class
 * @param every n-th device is used, and of each every so many-th fault
 * @param random what noise and the typist's choice are drawn from
 */
export function countHealthy(
  population: Population,
  profile: Profile,
  { devices, faults }: { devices: number; faults: number },
  random: Random,
): HealthyCount[] {
  const counts = new Map<string, HealthyCount>();
  drawDevices(population, profile).forEach((device, d) => {
    if (d % devices !== 0) return;
    for (const setup of setupsOf(device)) {
      const board = compileProfile(device.profile);
      const workspace = makeWorkspace(board);
      const all = hypothesesOf(device.profile).flatMap((h) => (h.fault === null ? [] : [h.fault]));
      const some = all.filter((_, k) => (k + d) % faults === 0);
      for (const fault of [null, ...some]) {
        const start = startUp(board, fault === null ? [] : [fault], setup, workspace);
        const asIs = ownPattern(device.profile, start, setup);
        if (fault === null ? !asIs.isHealthy : asIs.isHealthy || asIs.p < clearFrom) continue;
        for (const instrument of healthyInstruments) {
          // What comes again and again is typed as such, not as glances.
          if (instrument === typed && patternTypes[asIs.id].repeats) continue;
          const seen = seenThrough(device.profile, start, setup, instrument, random);
          if (seen !== null) tally(counts, device.profile, setup, instrument, fault, seen);
        }
      }
    }
  });
  return [...counts.values()].map((c) => ({ ...c, instead: [...c.instead].sort((a, b) => b[1] - a[1]) }));
}

/** With the pack in and out, where a device has one; on the battery feed the supply stands in its place. */
function setupsOf({ profile, chargeShare }: DrawnDevice): TwinSetup[] {
  return recognitionSetups(profile).flatMap((setup) =>
    setup.feed === 'battery' || !profile.battery
      ? [{ ...setup, battery: false }]
      : [
          { ...setup, battery: false },
          { ...setup, battery: true, chargeShare },
        ],
  );
}

type StartUp = ReturnType<typeof startUp>;

/** What the start-up is by its own power over time, seen by nothing. */
function ownPattern(
  profile: Profile,
  start: StartUp,
  setup: TwinSetup,
): { id: PatternId; isHealthy: boolean; p: number } {
  const trace = recordStartUp(start, setup, recognitionInstruments['probe, 1 kHz'], () => 0.5);
  const value = caseOf(profile, recordedRun('r1', setup, trace.instrument, markersOf(setup)));
  const limits = { noiseA: 0.0005, resolutionA: 0.0005, intervalS: 0.01 };
  const shape = describe(value, value.runs[0], trace, null);
  const [own] = recognisePatterns(
    { ...shape, features: featuresOf(start, setup, limits) },
    contextFor(value, value.runs[0]),
  );
  return { ...own, isHealthy: isHealthyName(own.id) };
}

function seenThrough(
  profile: Profile,
  start: StartUp,
  setup: TwinSetup,
  instrument: string,
  random: Random,
): PatternId | null {
  const model = recognitionInstruments[instrument === typed ? typedFrom : instrument];
  const recorded = recordStartUp(start, setup, model, random);
  const line = instrument === typed ? typedDigest(recorded, setup, random) : null;
  if (instrument === typed && line === null) return null;
  const { run, trace } =
    line === null
      ? { run: recordedRun('r1', setup, recorded.instrument, markersOf(setup)), trace: recorded }
      : readTypedRun(line, 'r1');
  const value = caseOf(profile, run);
  return topPattern(recognisePatterns(describe(value, run, trace, null), contextFor(value, run)));
}

const caseOf = (profile: Profile, run: Run): Case => ({
  ...bareCase({ class: profile.class as DeviceClass, model: profile.name, profile: null }, [], 'healthy'),
  runs: [run],
});

const isHealthyName = (id: PatternId): boolean => patternTypes[id].healthyWhen !== undefined;

/**
 * What somebody types of a display: one number before the press, then three to eight as they pass by, the highest among them,
 * with the voltage wherever it is another, and "hold" where the last two are alike.
 *
 * @returns null where there is nothing to type
 */
export function typedDigest(trace: Trace, setup: TwinSetup, random: Random): string | null {
  const shown = [...trace.t].flatMap((t, k) => (Number.isNaN(trace.i[k]) ? [] : [{ t, v: trace.v[k], i: trace.i[k] }]));
  const pressed = setup.promptS ?? setup.onS;
  const before = shown.filter((s) => s.t >= setup.onS + 1 && s.t < pressed - 0.25);
  const after = shown.filter((s) => s.t > pressed + 0.25);
  const count = 3 + Math.floor(6 * random());
  if (before.length === 0 || after.length < count) return null;
  // Glances as evenly as a person's, none of them at the very same place in two runs. The highest reading is noted by everybody,
  // and so is where it ended.
  const ended = after.length - 1 - Math.floor(0.1 * after.length * random());
  const step = ended / (count - 1);
  const at = Array.from({ length: count - 1 }, (_, k) => Math.floor((k + random()) * step));
  const top = after.reduce((best, s, k) => (k < ended && s.i > after[best].i ? k : best), 0);
  at[Math.floor(top / step)] = top;
  const glances = [...at, ended].map((k) => after[k]);
  const onUsb = setup.feed === 'usb-c';
  let volts: number | null = null;
  const say = ({ v, i }: { v: number; i: number }): string => {
    const isOther = onUsb && (volts === null || Math.abs(v - volts) > 1);
    if (isOther) volts = v;
    return `${isOther ? `${Math.round(v)}V ` : ''}${Number(i.toFixed(2))}`;
  };
  const words = glances.map(say);
  const [last, previous] = [glances.at(-1)!, glances.at(-2)!];
  const hold = Math.abs(last.i - previous.i) < 0.1 * Math.max(last.i, 0.02) ? ' hold' : '';
  const left = [
    setup.feed,
    ...(onUsb ? [] : [`${Number((setup.setV ?? before[0].v).toFixed(1))}V`]),
    ...(setup.limitA === null || onUsb ? [] : [`limit ${setup.limitA}A`]),
    ...(setup.feed === 'battery' ? [] : [setup.battery ? 'with-battery' : 'no-battery']),
  ];
  return `${left.join(' ')}: ${say(before.at(-1)!)} | prompt ${words.join(' ')}${hold}`;
}

function tally(
  counts: Map<string, HealthyCount>,
  { class: deviceClass }: Profile,
  { feed, battery }: TwinSetup,
  instrument: string,
  fault: Fault | null,
  seen: PatternId,
): void {
  const key = [deviceClass, feed, battery, instrument].join('|');
  const none = { healthy: 0, healthyRight: 0, faulty: 0, faultyMissed: 0, instead: [] };
  const count = counts.get(key) ?? { deviceClass: deviceClass as DeviceClass, feed, battery, instrument, ...none };
  counts.set(key, count);
  const isHealthy = isHealthyName(seen);
  if (fault !== null) {
    count.faulty++;
    count.faultyMissed += Number(isHealthy);
    return;
  }
  count.healthy++;
  count.healthyRight += Number(isHealthy);
  if (isHealthy) return;
  const known = count.instead.find(([id]) => id === seen);
  if (known) known[1]++;
  else count.instead.push([seen, 1]);
}
