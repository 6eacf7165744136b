import type { Case, CheckId, Reading } from '../case/index.ts';
import type { Board } from '../twin/index.ts';
import settings from './data/fit.json';
import type { DeviceTwin } from './device-twin.ts';
import type { Closeness } from './fit.ts';
import type { LikelihoodModel, PerCircuit } from './model.ts';
import { predictOutcome, Trial } from './predict-checks.ts';
import type { ReadingSense } from './readings.ts';
import { firstOnLadder, ladderChecks } from './twin-ladder.ts';

type Told = (string | null | undefined)[];
interface Store {
  trials: (Trial | null)[];
  checks: Map<CheckId, Told>;
}
const known = new WeakMap<Board, Store>();
/** Stores whose start-ups are held, the latest last. A profile's thousands of start-ups take tens of megabytes. */
const warm: Store[] = [];

function storeOf(twin: DeviceTwin): Store {
  let store = known.get(twin.board);
  if (!store) {
    const trials = twin.hypotheses.map((h) =>
      h.fault === null ? null : new Trial(twin.board, [h.fault], twin.workspace),
    );
    store = { trials, checks: new Map() };
    known.set(twin.board, store);
  }
  if (warm.at(-1) !== store) {
    const at = warm.indexOf(store);
    if (at >= 0) warm.splice(at, 1);
    warm.push(store);
    if (warm.length > settings.warmProfiles) warm.shift()?.trials.forEach((trial) => trial?.forget());
  }
  return store;
}

/** The usual start-ups of every hypothesis; null for one that cannot be started. */
export function trialsOf(twin: DeviceTwin): readonly (Trial | null)[] {
  return storeOf(twin).trials;
}

/**
 * The outcome of a check that the twin expects of a hypothesis; null where it cannot tell. Kept for as long as the
 * profile lives.
 */
function predictedOutcome(twin: DeviceTwin, check: CheckId, h: number): string | null {
  const store = storeOf(twin);
  let told = store.checks.get(check);
  if (!told) {
    told = new Array<string | null | undefined>(twin.hypotheses.length).fill(undefined);
    store.checks.set(check, told);
  }
  const trial = store.trials[h];
  const found = told[h];
  if (found !== undefined) return found;
  if (trial === null) return (told[h] = null);
  const isLadder = ladderChecks.includes(check);
  return (told[h] = isLadder ? firstOnLadder(trial, check, twin.closeness) : predictOutcome(trial, check));
}

/**
 * Probability of every outcome of a check for every hypothesis: what the twin expects, blended with how often such
 * outcomes are met in practice. Null where neither has an opinion.
 *
 * @param wanted hypotheses that the twin is asked about; the others get what is usual
 */
export function outcomeModel(
  twin: DeviceTwin,
  model: LikelihoodModel,
  check: CheckId,
  wanted: (hypothesis: number) => boolean = () => true,
): Record<string, number[]> | null {
  const expected = twin.hypotheses.map((_, h) => (wanted(h) ? predictedOutcome(twin, check, h) : null));
  const trust = settings.outcomeTrust[twin.closeness];
  if (ladderChecks.includes(check)) return ladderModel(expected, trust);
  const tables = model.outcomes(check);
  if (!tables) return null;
  const words = Object.keys(tables);
  return Object.fromEntries(
    words.map((word) => [
      word,
      twin.hypotheses.map((h, k) => {
        const usual = tables[word][h.index];
        const told = expected[k];
        return told === null || !words.includes(told) ? usual : (1 - trust) * usual + (told === word ? trust : 0);
      }),
    ]),
  );
}

/** Where the twin cannot tell, any of the findings is as likely as another. Null where there is only one. */
function ladderModel(expected: (string | null)[], trust: number): Record<string, number[]> | null {
  const words = [...new Set(expected.filter((e) => e !== null))];
  if (words.length < 2) return null;
  const any = 1 / words.length;
  return Object.fromEntries(
    words.map((word) => [
      word,
      expected.map((told) => (told === null ? any : (1 - trust) * any + (told === word ? trust : 0))),
    ]),
  );
}

/**
 * Likelihood of a reading for every hypothesis where its place is an element of the device's own profile: what the twin
 * has at that rail in that state, or the short that the hypothesis puts there. Under a generic profile the rails of the
 * same circuit and state stand for it. Null elsewhere.
 *
 * @param usual likelihood by circuit from the tables
 */
export function readingLikelihood(
  twin: DeviceTwin,
  value: Case,
  reading: Reading,
  sense: ReadingSense,
  usual: PerCircuit,
): number[] | null {
  const rails =
    twin.closeness === 'own' ? [railOf(twin, reading.where)].filter((r) => r >= 0) : railsLike(twin, reading);
  if (rails.length === 0) return null;
  const { trials } = storeOf(twin);
  const trust = settings.readingTrust[twin.closeness];
  const share = settings.readingShare[twin.closeness];
  const right = reading.mode === 'voltage' ? trust.voltage : plain(sense) === 'down' ? trust.short : trust.sound;
  return twin.hypotheses.map((h, k) => {
    const trial = trials[k];
    if (!trial || h.fault === null) return settings.readingUnknown;
    let agreeing = 0;
    for (const rail of rails) {
      const told =
        reading.mode === 'voltage' ? voltageTold(trial, rail, reading, value) : resistanceTold(trial, rail, reading);
      agreeing += told === null ? settings.readingUnknown : told === plain(sense) ? right : 1 - right;
    }
    const told = agreeing / rails.length;
    // A generic profile has rails of this kind, not this rail: the tables have their say too.
    return told ** share * usual[h.index] ** (1 - share);
  });
}

/** Rails of a generic profile that stand for the one that was measured: those of its circuit in its power state. */
function railsLike(twin: DeviceTwin, reading: Reading): number[] {
  const { rails } = twin.board.profile;
  const all = [...rails.keys()].filter((k) => rails[k].circuit === reading.circuit);
  const inState = all.filter((k) => rails[k].state === reading.state);
  return inState.length > 0 ? inState : all;
}

/** How far readings are trusted: the probability that what was measured is what stands there. */
export function readingTrust(closeness: Closeness): { voltage: number; short: number; sound: number } {
  return settings.readingTrust[closeness];
}

function plain(sense: ReadingSense): string {
  return sense === 'short' || sense === 'missing' ? 'down' : sense === 'low' ? 'down' : 'up';
}

function railOf(twin: DeviceTwin, where: string): number {
  const { profile, railIndex } = twin.board;
  const exact = railIndex.get(where.trim());
  if (exact !== undefined) return exact;
  const name = where.trim().toLowerCase();
  return profile.rails.findIndex((r) => r.name.toLowerCase() === name || r.id.toLowerCase() === name);
}

/** Whether a rail stands when somebody measures it: with the device in its last hold, before it was pressed, or plugged in. */
function voltageTold(trial: Trial, rail: number, reading: Reading, value: Case): string | null {
  const prompted = reading.prompted ?? true;
  const feed = reading.extra?.feed;
  const plugged = feed === 'usb-c' || feed === 'dc-in';
  const onBench = !plugged && (value.runs.some((r) => r.feed === 'battery') || value.runs.length === 0);
  const s = (onBench ? trial.bench() : trial.outside()) ?? trial.outside();
  if (!s) return null;
  const at = prompted ? 25 : plugged ? 5.5 : 3.5;
  const segment = s.segments.find((x) => x.t0 <= at && at < x.t1);
  if (!segment) return null;
  const highest = prompted
    ? Math.max(...s.segments.filter((x) => x.t1 > 4).map((x) => x.railV[rail]))
    : segment.railV[rail];
  // A device that starts over and over shows its rails for a moment: a meter catches them.
  const volts = s.restarts > 0 ? highest : segment.railV[rail];
  return volts >= 0.85 * trial.board.nominalV[rail] ? 'up' : 'down';
}

function resistanceTold(trial: Trial, rail: number, reading: Reading): string | null {
  const s = trial.bench() ?? trial.outside();
  if (!s) return null;
  const siemens = s.circumstances.condition.groundS[rail];
  if (siemens === 0) return 'up';
  const good = reading.mode === 'resistance' && reading.reference !== null ? reading.reference : settings.usualRailOhm;
  const ohm = 1 / (siemens + 1 / Math.max(good, 0.1));
  return ohm < settings.tellingRatio * good ? 'down' : 'up';
}
