import type { DeviceClass } from '../catalogue/index.ts';
import {
  bareCase,
  plainAction,
  plainCheck,
  plainInjection,
  plainReading,
  unknownSetup,
  type Action,
  type Case,
  type Check,
  type Device,
  type Injection,
  type Reading,
  type Run,
  type Setup,
} from '../case/index.ts';
import { describe as describeShape, lessonOf } from '../diagnosis/index.ts';
import type { LibraryCase } from '../library/index.ts';
import { contextFor } from '../prediction/index.ts';
import { recognisePatterns, type PatternProbability, type Shape } from '../shape/index.ts';
import { sketchInstruments, sketchTrace, type SketchInstrument, type Stroke } from '../sketch/index.ts';
import { readTypedRun } from '../formats/index.ts';
import type { Feed } from '../catalogue/index.ts';
import { seededRandom, type Marker, type Trace } from '../trace/index.ts';

/** Shorthand for tests: cases, runs and their patterns from a few words. */
export function deviceOf(deviceClass: DeviceClass, expect: Device['expect'] = {}): Device {
  return { class: deviceClass, model: 'test unit', serial: '', profile: null, expect };
}

export function caseOf(deviceClass: DeviceClass, over: Partial<Case> = {}): Case {
  return { ...bareCase(deviceOf(deviceClass), [], 'test'), ...over };
}

export interface Outline {
  feed: Feed;
  strokes: Stroke[];
  markers?: Marker[];
  setup?: Partial<Setup>;
  quantity?: 'voltage-only';
}

export function sketchRun(
  outline: Outline,
  instrument: SketchInstrument,
  seed = 1,
  id = 'r1',
): { run: Run; trace: Trace } {
  const setup: Setup = { ...unknownSetup, unplugged: [], ...outline.setup };
  const source = { limitA: setup.limitA ?? undefined, setV: setup.setV ?? undefined };
  const drawn = sketchTrace(outline.feed, outline.strokes, instrument, seededRandom(seed), source);
  const voltageOnly = outline.quantity === 'voltage-only';
  const trace: Trace = voltageOnly ? { ...drawn, quantity: 'voltage-only', i: drawn.i.map(() => NaN) } : drawn;
  const run: Run = {
    id,
    file: `${id}.csv`,
    typed: null,
    feed: outline.feed,
    quantity: outline.quantity ?? 'current',
    instrument: trace.instrument,
    setup,
    markers: outline.markers ?? [],
    contract: null,
    after: null,
  };
  return { run, trace };
}

export function describeWithPatterns(
  value: Case,
  run: Run,
  trace: Trace,
): { shape: Shape; patterns: PatternProbability[] } {
  const shape = describeShape(value, run, trace, null);
  return { shape, patterns: recognisePatterns(shape, contextFor(value, run)) };
}

/** Shapes of typed lines as the runs of a case. */
export function typedCase(
  deviceClass: DeviceClass,
  lines: string[],
  over: Partial<Case> = {},
): { value: Case; shapes: Map<string, Shape> } {
  const read = lines.map((line, k) => readTypedRun(line, `r${k + 1}`));
  const value = caseOf(deviceClass, { runs: read.map((r) => r.run), ...over });
  const shapes = new Map(read.map((r) => [r.run.id, describeShape(value, r.run, r.trace, null)]));
  return { value, shapes };
}

/** A reading with what it usually leaves open. */
export function readingOf(r: Partial<Reading> & Pick<Reading, 'mode' | 'value'>): Reading {
  return { ...plainReading, where: 'point', unit: r.mode === 'resistance' ? 'ohm' : 'V', ...r };
}

export function checkOf(id: string, outcome: string | null, over: Partial<Check> = {}): Check {
  return { ...plainCheck, id, outcome, ...over };
}

export function actionOf(id: string, kind: Action['kind'], over: Partial<Action> = {}): Action {
  return { ...plainAction, id, kind, ...over };
}

export function injectionOf(rail: string, setV: number, over: Partial<Injection> = {}): Injection {
  return { ...plainInjection, id: 'i1', rail, setV, ...over };
}

/** A confirmed case of a phone with one typed run, as the library knows it. */
export function libraryCaseOf(id: string, line: string, over: Partial<LibraryCase> = {}): LibraryCase {
  const { value, shapes } = typedCase('phone', [line]);
  const { signatures } = lessonOf(value, shapes, 'rail.run');
  return {
    id,
    origin: null,
    model: 'test unit',
    deviceClass: 'phone',
    circuit: 'rail.run',
    element: '',
    part: '',
    cure: '',
    grade: 'measured',
    weight: 1,
    signatures,
    closedAt: 100,
    says: id,
    ...over,
  };
}

export { sketchInstruments };
