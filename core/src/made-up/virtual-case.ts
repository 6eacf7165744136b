import { namedChecks } from '../catalogue/index.ts';
import type { CheckId, CircuitId, DeviceClass } from '../catalogue/index.ts';
import { bareCase, emptyIntake, plainReading, type Case, type Reading, type Run } from '../case/index.ts';
import { hypothesesOf } from '../hypotheses/index.ts';
import { hasSymptom, predictOutcome, Trial } from '../prediction/index.ts';
import { gaussianNoise, type Marker, type Random, type Trace } from '../trace/index.ts';
import {
  compileProfile,
  instrumentOf,
  makeWorkspace,
  markersOf,
  recordStartUp,
  startUp,
  usualSetup,
  type Fault,
  type Profile,
  type TwinSetup,
} from '../twin/index.ts';
import { soundUnit, usualSpread, type Spread } from '../population/index.ts';
import { complaintOf, drawFault, instrumentsOf, recordedRun, spotOf } from '../practice/index.ts';

export interface VirtualCase {
  profile: Profile;
  /** The case as it came in, with its runs but no checks and readings yet. */
  value: Case;
  traces: Map<string, Trace>;
  faults: Fault[];
  circuit: CircuitId;
  target: string | null;
  /** Where the fault lies outside of what the engine can know. */
  outside: boolean;
  /** What a check shows on this unit. */
  outcomeOf: (check: CheckId) => string | null;
  /** The unit itself, for who plays on at its board. */
  trial: Trial;
  /** Records the unit once more in the setup of one of its runs, with what is left of its faults and parts. */
  recordAgain: (run: number, id: string, left: Fault[], unplugged: string[]) => { run: Run; trace: Trace };
  readings: Reading[];
}

interface CaseOptions {
  mismatch?: Spread;
  /** The engine gets only the class. */
  generic?: boolean;
  /** Probabilities of a second fault, of a fault outside the hypotheses, of a slip in a check. */
  twoFaults?: number;
  outside?: number;
  slip?: number;
  /** How much oftener than usual a part of this model fails, by element and kind of fault: see {@link weakSpots}. */
  weakSpots?: ReadonlyMap<string, number>;
}

/**
 * What a model is known for: every part of it fails a factor more or less often than the base rates say.
 *
 * @param spread standard deviation of the natural logarithm of that factor; at 0 no model differs from another
 */
export function weakSpots(profile: Profile, random: Random, spread: number): ReadonlyMap<string, number> {
  const spots = new Set(hypothesesOf(profile).map(spotOf));
  return new Map([...spots].map((spot) => [spot, Math.exp(spread * gaussianNoise(random))]));
}

/**
 * Makes up a case: a fault drawn from the base rates, in a unit that its profile does not quite describe, recorded with
 * whatever instrument was at hand, with or without markers.
 */
export function makeCase(profile: Profile, random: Random, options: CaseOptions = {}): VirtualCase {
  const unit = soundUnit(profile, random, options.mismatch ?? usualSpread);
  const outside = random() < (options.outside ?? 0.05);
  const intake = { ...emptyIntake, liquid: random() < 0.2, dropped: random() < 0.2, priorRepair: random() < 0.15 };
  const device = {
    class: profile.class as DeviceClass,
    model: profile.name,
    profile: options.generic ? null : profile.id,
  };
  const bare: Case = { ...bareCase(device, [], 'virtual'), intake };
  const board = compileProfile(unit);
  const workspace = makeWorkspace(board);
  let drawn = drawFault(bare, profile, random, options.weakSpots);
  // Nobody brings in a device that shows nothing.
  for (let k = 0; k < 40 && drawn.circuit !== 'none' && !hasSymptom(new Trial(board, [drawn.fault], workspace)); k++)
    drawn = drawFault(bare, profile, random, options.weakSpots);
  const faults = outside ? [] : [drawn.fault];
  if (!outside && drawn.circuit !== 'none' && random() < (options.twoFaults ?? 0.05)) {
    const second = drawFault(bare, profile, random, options.weakSpots);
    if (second.circuit !== 'none') faults.push(second.fault);
  }
  const trial = new Trial(board, faults, workspace);
  const value: Case = { ...bare, complaintKind: complaintOf(trial, drawn.circuit, random) };
  const traces = new Map<string, Trace>();
  const setups = setupsOf(profile, random);
  setups.forEach((setup, k) => {
    const { run, trace } = record(`r${k + 1}`, board.profile, faults, setup, random, outside);
    value.runs.push(run);
    traces.set(run.id, trace);
  });
  const slip = options.slip ?? 0.05;
  const slips = new Map<CheckId, string | null>();
  const outcomeOf = (check: CheckId): string | null => {
    if (outside) return null;
    if (!slips.has(check)) slips.set(check, slipOf(predictOutcome(trial, check), check, slip, random));
    return slips.get(check) ?? null;
  };
  return {
    profile,
    value,
    traces,
    faults,
    circuit: outside ? 'unmodelled' : drawn.circuit,
    target: outside ? null : drawn.target,
    outside,
    outcomeOf,
    trial,
    recordAgain: (k, id, left, unplugged) =>
      record(id, board.profile, left, { ...setups[k], unplugged }, random, outside),
    readings: outside ? [] : readingsOf(trial, profile, random),
  };
}

/** The look from outside and the first runs on the supply. */
function setupsOf(profile: Profile, random: Random): TwinSetup[] {
  const seconds = 16 + 14 * random();
  const onS = 0.3 + random();
  const promptS = onS + 2.5 + 2 * random();
  const base = { ...usualSetup, seconds, onS, promptS, leadOhm: 0.04 + 0.15 * random() };
  const out: TwinSetup[] = [];
  if (profile.ports.length > 0) {
    const usb: TwinSetup = {
      ...base,
      feed: 'usb-c',
      limitA: null,
      battery: profile.battery !== null,
      promptS: random() < 0.6 ? promptS : null,
    };
    out.push(usb, { ...usb, flipped: true });
    if (profile.ports.length > 1) out.push({ ...usb, port: 2 });
  }
  if (profile.dcIn)
    out.push({ ...base, feed: 'dc-in', limitA: 5, battery: profile.battery !== null && random() < 0.7 });
  if (profile.battery) {
    const { nominalV, fullV } = profile.battery;
    out.push({
      ...base,
      feed: 'battery',
      setV: nominalV + 0.5 * random() * (fullV - nominalV),
      limitA: random() < 0.5 ? 3 : 5,
    });
  }
  return out;
}

function record(
  id: string,
  unit: Profile,
  faults: Fault[],
  setup: TwinSetup,
  random: Random,
  outside: boolean,
): { run: Run; trace: Trace } {
  const board = compileProfile(unit);
  const names = instrumentsOf[setup.feed];
  const name = names[Math.floor(random() * names.length)];
  const model = {
    ...instrumentOf(name),
    gainA: 1 + 0.03 * gaussianNoise(random),
    offsetA: 0.5 * instrumentOf(name).resolutionA * gaussianNoise(random),
  };
  const start = startUp(board, faults, setup);
  const trace = recordStartUp(start, setup, model, random);
  const drawn = outside ? { ...trace, i: foreignDraw(trace, random) } : trace;
  const run = recordedRun(id, setup, drawn.instrument, markersFor(setup, random));
  return { run, trace: drawn };
}

/** Markers are often not set, and sometimes set late. */
function markersFor(setup: TwinSetup, random: Random): Marker[] {
  if (random() < 0.35) return [];
  const late = random() < 0.15 ? 0.6 * random() : 0;
  return markersOf(setup).map((m) => ({ ...m, t: m.t + (m.event === 'prompt' ? late : 0) }));
}

/** A draw that follows nothing a device does: a heater, a swing, a ramp, hum. */
function foreignDraw(trace: Trace, random: Random): Float32Array {
  const [kind, height, period] = [Math.floor(random() * 4), 0.2 + random(), 4 + 9 * random()];
  return trace.i.map((_, k) => {
    const t = trace.t[k];
    if (kind === 0) return height * (0.5 + 0.5 * Math.sin((2 * Math.PI * t) / period));
    if (kind === 1) return (height * t) / 20;
    if (kind === 2) return t % (2 * period) < period ? height : 0;
    return height * Math.abs(((t / period) % 2) - 1);
  });
}

function slipOf(outcome: string | null, check: CheckId, slip: number, random: Random): string | null {
  if (outcome === null || random() >= slip) return outcome;
  return check === namedChecks.ports || check === namedChecks.plug
    ? outcome === 'same'
      ? 'different'
      : outcome
    : null;
}

/** The ladder: what a probe finds on every rail while the unit holds where it got to, and to ground with it off. */
function readingsOf(trial: Trial, profile: Profile, random: Random): Reading[] {
  const s = trial.bench() ?? trial.outside();
  const segment = s?.segments.find((x) => x.t0 <= 25 && 25 < x.t1) ?? s?.segments.at(-1);
  if (!s || !segment) return [];
  const fed = trial.healthyTwin().bench()?.segments.at(-1);
  const plain = { ...plainReading, prompted: true, powered: true };
  return profile.rails.flatMap((rail, k): Reading[] => {
    // A rail that is dead in a good unit too, because its feed is not connected, says nothing and is not written down.
    if (fed && fed.railV[k] < 0.5 * rail.nominalV) return [];
    const state = rail.state as Reading['state'];
    const circuit = rail.circuit;
    // A unit that starts over and over shows its rails for a moment, and a meter with a hold catches them.
    const highest = s.restarts > 0 ? Math.max(...s.segments.filter((x) => x.t1 > 4).map((x) => x.railV[k])) : 0;
    const volts = Math.max(0, Math.max(highest, segment.railV[k]) * (1 + 0.01 * gaussianNoise(random)));
    const siemens = s.circumstances.condition.groundS[k];
    const good = 300 * Math.exp(0.3 * gaussianNoise(random));
    const ohm = 1 / (siemens + 1 / good);
    return [
      { ...plain, where: rail.id, circuit, state, mode: 'voltage', value: volts, unit: 'V', reference: rail.nominalV },
      {
        ...plain,
        where: rail.id,
        circuit,
        state,
        mode: 'resistance',
        value: ohm,
        unit: 'ohm',
        reference: 300,
        powered: false,
      },
    ];
  });
}
