import type { CircuitId, ComplaintKind, PatternId } from '../catalogue/index.ts';
import type { ActionDone, Check, Contract, Injection, Proof, Reading } from '../case/index.ts';

/** A thing that was out of a device, or another in it, in one observation and not in the one it is held against. */
export interface Difference {
  /** The slot, as assemblies have it; `part:` and the name of one that can be unplugged. */
  slot: string;
  is: 'none' | 'good';
}

/** How a reading moved from the state before a change to the state after it. */
export const moves = ['recovers', 'improves', 'falls', 'rises', 'same'] as const;
export type MovedWord = (typeof moves)[number];

/** A level that stands for a run. Amperes, volts; the resolution is the display's, A. */
export interface Level {
  run: string;
  amps: number | null;
  volts: number | null;
  resolutionA: number;
}

/** Two runs held against each other: what moved, and by how much. */
interface Held {
  moved: MovedWord;
  before: Level;
  now: Level;
}

type Place = Pick<Check, 'id' | 'outcome' | 'where'>;
type Nothing = Record<never, never>;

/** What can move a belief, by its id, with everything that its sentence says. */
export interface ReasonValues {
  liquid: Nothing;
  dropped: Nothing;
  'repaired-before': Nothing;
  swollen: Nothing;
  complaint: { kind: Exclude<ComplaintKind, 'other'> };
  /** What the customer said, by the id of the remark. */
  remark: { remark: string };
  /** What a run shows by itself; amperes, seconds. */
  run: {
    run: string;
    pattern: PatternId;
    p: number;
    beforeA: number | null;
    resolutionA: number;
    periodS: number | null;
  };
  /** What was out of the way in one run of a state and not in another. */
  compared: Held & { without: readonly Difference[] };
  changed: Held & { action: ActionDone; isWeak: boolean };
  'failed-before': { action: ActionDone };
  check: Place & { circuits: readonly CircuitId[] };
  reading: Pick<Reading, 'where' | 'circuit' | 'unit' | 'value' | 'ol' | 'swing' | 'says' | 'bound' | 'reference'> & {
    isAcross: boolean;
    /** What the value means, as `of:word`; null where it says nothing. */
    sense: string | null;
  };
  /** What flowed and warmed, with what of it counted here. Ohms. */
  injection: Pick<Injection, 'rail' | 'setV' | 'amps' | 'hot' | 'heat'> & {
    goodA: number | null;
    ohm: number | null;
    hotCircuit: CircuitId | null;
  };
  /** Amperes. */
  unplugged: { part: string; run: string; moved: 'falls' | 'rises' | 'same'; beforeA: number; afterA: number };
  contract: { run: string } & Pick<Contract, 'kind' | 'volts'>;
  halves: { main: 'starts' | 'fails' | null; other: 'draws' | 'rests' | null };
  proof: Pick<Proof, 'protocol' | 'step' | 'reason'> & { result: 'pass' | 'fail' };
  'past-cases': { cases: number; ofModel: number; closest: readonly string[] };
  correction: Nothing;
}

export type ReasonId = keyof ReasonValues;
/** Why a belief moved, as data; `sayReason` has it in words. */
export type Reason = { [I in ReasonId]: { id: I; values: ReasonValues[I] } }[ReasonId];

/** Why something that was entered does not count, by its id. */
export interface WhyLeftOutValues {
  'never-on': Nothing;
  'unknown-check': Nothing;
  'no-result': Nothing;
  'by-its-readings': Nothing;
  'by-its-runs': Nothing;
  'by-injections': Nothing;
  'seen-later': { outcome: string };
  'no-likelihoods': Nothing;
  'needs-usb-c': { feed: string };
  'nothing-noted': Nothing;
  /** Above what the meter can tell, it may or may not be a short. */
  'may-be-short': { value: number };
  'low-on-a-core': Nothing;
  'low-on-a-big-chip': Nothing;
  'no-voltage': Nothing;
  'no-expectation': Nothing;
  'not-powered-on': Nothing;
}

export type WhyLeftOut = {
  [I in keyof WhyLeftOutValues]: { id: I; values: WhyLeftOutValues[I] };
}[keyof WhyLeftOutValues];

/**
 * Evidence for or against a circuit: the reason, how often the same was seen in one state of the device, and the weight of all of
 * it in decibans (10 log10 of the likelihood ratio against the rest). Older engines stored a sentence in place of the reason.
 */
export type WeighedEvidence = { for: number } & ({ reason: Reason; times: number } | { item: string });
