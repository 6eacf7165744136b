import type { CircuitId, DeviceClass, Feed, OutcomeGrade } from '../catalogue/index.ts';
import type { Run } from '../case/index.ts';
import type { RunQuantity } from '../trace/index.ts';
import type { Shape } from '../shape/index.ts';
import { courseByPhase } from './course.ts';
import { blursOf, featuresOf } from './features.ts';

/** A model's name as two people write it. */
export function modelKey(model: string): string {
  return model.trim().toLowerCase().replace(/\s+/g, ' ');
}

/** What makes two runs comparable at all: how the device was fed and what of it was away. */
export interface SignatureSetup {
  feed: Feed;
  quantity: RunQuantity;
  /** A pack was in it, and could give or take. */
  battery: boolean;
  /** A press was seen or marked. */
  prompted: boolean;
  /** Anything else that was otherwise than usual, in a fixed order; empty for an assembled device. */
  otherwise: string;
  port: number;
  flipped: boolean;
}

/** One run as the library keeps it: small, of fixed length, and without samples. */
export interface Signature {
  /** Id of the run in its case. */
  run: string;
  setup: SignatureSetup;
  /** One number a feature, in the order of `featureTypes`; NaN where the run has none. */
  features: Float32Array;
  /** How far each feature is only known to, by what the instrument shows; in the unit of the feature. */
  blurs: Float32Array;
  /** Power by phase: see {@link courseByPhase}. Empty for a typed run, whose instants nobody recorded. */
  course: Float32Array;
}

/** A confirmed case as the library knows it. */
export interface LibraryCase {
  /** The same for the same case wherever it is met. */
  id: string;
  /** Name of the shop that it came from; null for one of this shop. */
  origin: string | null;
  model: string;
  deviceClass: DeviceClass;
  circuit: CircuitId;
  /** The element in words or as a profile's id; empty where only the circuit is known. */
  element: string;
  /** Number of the part; empty where nobody noted it. */
  part: string;
  /** What was done about it. */
  cure: string;
  grade: OutcomeGrade;
  /** What it teaches, 0 to 1: 1 for a cause that was measured in this shop. */
  weight: number;
  signatures: readonly Signature[];
  /** When it was confirmed, milliseconds since 1970. */
  closedAt: number;
  /** What it is called in a sentence: "job 12, rail.main". */
  says: string;
}

/**
 * The signature of one run.
 *
 * @param run how it was made
 * @param shape what was seen in it
 * @returns of fixed length whatever the length of the run
 */
export function signatureOf(run: Run, shape: Shape): Signature {
  return {
    run: run.id,
    setup: setupOf(run, shape),
    features: Float32Array.from(featuresOf(shape.features)),
    blurs: Float32Array.from(blursOf(shape.features)),
    course: run.typed === null ? courseByPhase(shape) : new Float32Array(0),
  };
}

function setupOf(run: Run, shape: Shape): SignatureSetup {
  const { setup } = run;
  const otherwise = [
    setup.assembly === 'board-alone' || setup.assembly === 'half' ? `${setup.assembly} ${setup.half ?? ''}`.trim() : '',
    setup.display === 'disconnected' ? 'no display' : '',
    ...[...setup.unplugged].sort(),
  ].filter((x) => x !== '');
  return {
    feed: run.feed,
    quantity: run.quantity,
    battery: run.feed !== 'battery' && (setup.battery === 'connected' || setup.battery === 'known-good'),
    prompted: shape.features.prompted,
    otherwise: otherwise.join(', '),
    port: setup.port ?? 1,
    flipped: setup.flipped,
  };
}

/** Whether two runs can be held against each other at all. */
export function areComparable(a: SignatureSetup, b: SignatureSetup): boolean {
  return (
    a.feed === b.feed &&
    a.quantity === b.quantity &&
    a.battery === b.battery &&
    a.prompted === b.prompted &&
    a.otherwise === b.otherwise
  );
}

/** The same for runs that are {@link areComparable}, and only for them. */
export function comparableKey({ feed, quantity, battery, prompted, otherwise }: SignatureSetup): string {
  return [feed, quantity, battery ? 'pack' : '', prompted ? 'press' : '', otherwise].join('|');
}
