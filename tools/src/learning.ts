import {
  circuitNames,
  type CircuitId,
  plainCheck,
  type Case,
  checkIds,
  checkTypes,
  assess,
  describe,
  lessonOf,
  outsideOnly,
  Library,
  type LibraryCase,
  soundUnit,
  usualSpread,
  type Spread,
  type Shape,
  seededRandom,
  type Profile,
  makeCase,
  weakSpots,
  seedStep,
  unitSpread,
  type VirtualCase,
} from '@umbral/core';
import { figuresOf, verdictOf, type Figures, type Verdict } from './score.ts';

/** A model that nobody has a profile of, with cases of it. */
interface ModelCases {
  cases: { one: VirtualCase; value: Case; shapes: Map<string, Shape> }[];
}

interface LearningOptions {
  /** Cases that are confirmed first, and cases that are called after that. */
  confirmed: number;
  called: number;
  /** How unequally the parts of a model fail: see {@link weakSpots}. */
  weakness: number;
  /** How far each unit is from the model; every model is off its profile by what is usual. */
  units?: Spread;
}

/** What the first cases of a model did for the next. */
interface LearningFigures {
  before: Figures;
  after: Figures;
}

/**
 * Draws a model whose figures are off from a profile, and units of it with faults; calls each from outside, once as if it was
 * the first of its model, and once with the first `confirmed` of them in the library.
 *
 * @param profile what the model is off from; the engine gets only the class
 * @param seed of the model and its cases
 */
export function learnModel(
  profile: Profile,
  seed: number,
  options: LearningOptions,
): { before: Verdict; after: Verdict }[] {
  const { cases } = drawModel(profile, seed, options);
  const library = cases.slice(0, options.confirmed).flatMap(({ one, value, shapes }, k) => {
    const { circuit } = one;
    if (circuit === 'unmodelled') return [];
    const lesson = lessonOf(value, shapes, circuit as CircuitId);
    return [knownCase(one, value, k, lesson)];
  });
  const known = new Library(library);
  return cases.slice(options.confirmed).flatMap(({ one, value, shapes }) => {
    if (one.outside) return [];
    const after = assess(value, shapes, known.ask(value, shapes, { without: '', before: null }));
    return [{ before: verdictOf(assess(value, shapes, {}), one), after: verdictOf(after, one) }];
  });
}

/** Figures before and after over calls of any models. */
export function learningFigures(calls: readonly { before: Verdict; after: Verdict }[]): LearningFigures {
  return { before: figuresOf(calls.map((c) => c.before)), after: figuresOf(calls.map((c) => c.after)) };
}

function drawModel(profile: Profile, seed: number, options: LearningOptions): ModelCases {
  const random = seededRandom(seed);
  const model = soundUnit(profile, random, usualSpread);
  const spots = options.weakness > 0 ? weakSpots(model, random, options.weakness) : undefined;
  const cases = Array.from({ length: options.confirmed + options.called }, (_, k) => {
    const own = seededRandom(seed + (k + 1) * seedStep);
    const one = makeCase(model, own, { generic: true, mismatch: options.units ?? unitSpread, weakSpots: spots });
    const shapes = new Map<string, Shape>();
    for (const run of one.value.runs) {
      const trace = one.traces.get(run.id);
      if (trace) shapes.set(run.id, describe(one.value, run, trace, null));
    }
    const checks = checkIds.flatMap((id) => {
      const outcome = checkTypes[id].depth <= 1 ? one.outcomeOf(id) : null;
      return outcome === null ? [] : [{ ...plainCheck, id, outcome }];
    });
    return { one, value: outsideOnly({ ...one.value, checks }), shapes };
  });
  return { cases };
}

function knownCase(one: VirtualCase, value: Case, k: number, lesson: ReturnType<typeof lessonOf>): LibraryCase {
  const circuit = one.circuit as CircuitId;
  return {
    id: `case ${k + 1}`,
    origin: null,
    model: value.device.model,
    deviceClass: value.device.class,
    circuit,
    element: '',
    part: '',
    cure: '',
    grade: 'measured',
    weight: 1,
    signatures: lesson.signatures,
    closedAt: k,
    says: `case ${k + 1}, ${circuitNames[circuit]}`,
  };
}
