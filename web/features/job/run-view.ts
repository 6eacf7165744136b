import {
  circuitNames,
  healthyBand,
  oddSetup,
  patternNames,
  patternTypes,
  topPattern,
  type Assessment,
  type BandStep,
  type Case,
  type CircuitId,
  type PredictedItem,
  type Marker,
  type PatternId,
  type PredictedStretch,
  type Run,
  type SuspectDraw,
} from '@umbral/core';
import { createHash } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import * as engine from '@/server/analysis/engine';
import type { KnownProfile } from '@/server/work/shop/profiles';
import type { ReferenceRun } from '@/server/work/jobs/references';
import { droppedNote } from '@/server/work/jobs/chunks';
import { runOf, type RunRow } from '@/server/record/rows';
import { instrumentSentence, runTitle, segmentWords, setupWords, spanWords } from '@/features/words';
import { leavesBand, outFor } from './band';
import { referenceBand } from './reference-band';

interface SegmentView {
  t0: number;
  t1: number;
  level: string;
  does: string;
  span: string;
  kind: string;
  isFinding: boolean;
}

/** The chosen run, ready to be drawn. */
export interface RunView {
  id: number;
  version: number;
  run: Run;
  title: string;
  chips: string[];
  instrument: string;
  t0: number;
  t1: number;
  preview: RunRow['preview'];
  band: { low: (number | null)[]; high: (number | null)[] };
  /** Where the band comes from, in a few words; empty where there is none. */
  bandFrom: string;
  leavesAt: number | null;
  /** A stretch that is pointed at, seconds; null for none. */
  pointed?: [number, number] | null;
  /** Kept as what a healthy unit draws. */
  isReference: boolean;
  /** What the leading suspects would draw in this setup, where their twin can tell. */
  predictions: {
    id: CircuitId;
    name: string;
    band: { low: (number | null)[]; high: (number | null)[] };
    predicted: PredictedItem[];
  }[];
  markers: Marker[];
  segments: SegmentView[];
  pattern: { id: PatternId; name: string; p: number }[];
  notes: string[];
  sentence: string;
}

/**
 * What was drawn of a run as it stands: the same for everybody who looks, until the run, the suspects, or what they are
 * predicted from changes. A page that is opened while the engine works on something else need not wait for it.
 */
const drawn = new LRUCache<string, SuspectDraw[]>({ max: 400 });

async function drawsOf(
  value: Case,
  row: RunRow,
  circuits: CircuitId[],
  known: KnownProfile | null,
): Promise<SuspectDraw[]> {
  const of = [row.id, row.version, row.engine, circuits, known?.profile.id, known?.version, value];
  const key = createHash('sha256').update(JSON.stringify(of)).digest('base64');
  const found = drawn.get(key);
  if (found) return found;
  const draws = await engine.predictedDraws(value, runOf(row), row.shape, circuits, known);
  drawn.set(key, draws);
  return draws;
}

/** Everything about one run, with the band that a healthy unit would draw and what the leading suspects would. */
export async function runView(
  value: Case,
  row: RunRow,
  latest: Assessment | null,
  known: KnownProfile | null,
  references: ReferenceRun[],
): Promise<RunView> {
  const run = runOf(row);
  const { shape, preview } = row;
  const assessed = latest?.runs.find((r) => r.id === row.run_key);
  const suspects = (latest?.circuits ?? [])
    .filter((c) => c.id !== 'unmodelled')
    .slice(0, maxPredictions)
    .map((c) => c.id);
  const [healthyDraw, ...draws] = await drawsOf(value, row, ['none', ...suspects], known);
  const { band, bandFrom } = healthyBandOf(value, row, known, references, healthyDraw.stretches);
  const isFine = assessed ? patternTypes[topPattern(assessed.pattern)].healthyWhen !== undefined : false;
  const leavesAt = latest !== null && bandFrom && !isFine ? leavesBand(preview, band, shape.features.noiseA) : null;
  const pattern = (assessed?.pattern ?? []).slice(0, 3).map((p) => ({ id: p.id, name: patternNames[p.id], p: p.p }));
  const segments = segmentViews(row, leavesAt, pattern[0]?.id ?? null);
  return {
    id: row.id,
    version: row.version,
    run,
    title: runTitle(run),
    chips: setupWords(run),
    instrument: instrumentSentence(run, shape.features.intervalS, shape.features.resolutionA),
    t0: preview.t0,
    t1: preview.t1,
    preview,
    band,
    bandFrom,
    leavesAt,
    isReference: references.some((r) => r.runId === row.id),
    predictions: suspects.flatMap((id, k) => {
      const { stretches, predicted } = draws[k];
      if (stretches.length === 0) return [];
      return [{ id, name: circuitNames[id], band: drawnOver(preview, stretches), predicted }];
    }),
    markers: shape.markers,
    segments,
    pattern,
    notes: [
      ...droppedNote(row),
      ...oddSetup(value.device, run, shape),
      ...(assessed?.warnings ?? [...row.repairs, ...row.warnings]),
    ],
    sentence: segments.map((s) => `${s.span}: ${s.level}, ${s.does}`).join('. '),
  };
}

/** What a healthy unit would draw in this setup, and from what that is known: runs of healthy devices, a profile, its kind. */
function healthyBandOf(
  value: Case,
  row: RunRow,
  known: KnownProfile | null,
  references: ReferenceRun[],
  stretches: PredictedStretch[],
): Pick<RunView, 'band' | 'bandFrom'> {
  const { shape, preview } = row;
  const promptT = shape.markers.find((m) => m.event === 'prompt')?.t ?? null;
  const fitting = references.filter((r) => r.runId !== row.id);
  const measured = referenceBand(preview, promptT, fitting);
  if (measured) {
    const bandFrom =
      fitting.length === 1 ? 'a healthy device, recorded here' : `${fitting.length} runs of healthy devices`;
    return { band: measured, bandFrom };
  }
  if (known && stretches.length > 0)
    return { band: drawnOver(preview, stretches), bandFrom: 'healthy, from the profile' };
  const drawsBand = row.quantity === 'current' && (row.feed === 'battery' || promptT !== null);
  const volts = shape.features.voltage.tail ?? row.setup.setV ?? value.device.expect.batteryV ?? 4;
  const steps = drawsBand ? healthyBand(value.device, runOf(row), volts) : [];
  return {
    band: bandOver(preview, steps, promptT),
    bandFrom: steps.length > 0 ? 'typical for this kind of device' : '',
  };
}

const maxPredictions = 3;

/** A predicted draw in the even stretches of the picture. */
function drawnOver({ t0, t1, mean }: RunRow['preview'], draw: PredictedStretch[]): RunView['band'] {
  const all = mean.map((_, k) => {
    const t = t0 + ((k + 0.5) / mean.length) * (t1 - t0);
    return draw.find((d) => d.t0 <= t && t < d.t1) ?? null;
  });
  return { low: all.map((d) => d?.low ?? null), high: all.map((d) => d?.high ?? null) };
}

function bandOver(preview: RunRow['preview'], steps: BandStep[], promptT: number | null): RunView['band'] {
  const n = preview.mean.length;
  const at = (k: number): BandStep | null => {
    if (steps.length === 0) return null;
    const t = preview.t0 + ((k + 0.5) / n) * (preview.t1 - preview.t0);
    const since = promptT === null ? -Infinity : t - promptT;
    return steps.findLast((s) => s.fromS <= since || s.fromS === -Infinity) ?? null;
  };
  const all = Array.from({ length: n }, (_, k) => at(k));
  return { low: all.map((s) => s?.low ?? null), high: all.map((s) => s?.high ?? null) };
}

const maxSegments = 5;

/**
 * The segment in which the run leaves the band: the one that has most of the stretch that it was out of it for, since the
 * instant itself is that of a step and is known to a picture point only. Without a band the last one, where it is not healthy.
 */
function findingOf<S extends { t0: number; t1: number }>(
  all: readonly S[],
  leavesAt: number | null,
  { t0, t1 }: RunRow['preview'],
  pattern: PatternId | null,
): S | undefined {
  if (leavesAt === null) return pattern && patternTypes[pattern].healthyWhen === undefined ? all.at(-1) : undefined;
  const until = leavesAt + outFor * (t1 - t0);
  const within = (s: S): number => Math.min(s.t1, until) - Math.max(s.t0, leavesAt);
  return [...all].sort((a, b) => within(b) - within(a))[0];
}

/** Segments in words; where there are many, the last ones, which usually hold the finding, and the first. */
function segmentViews(
  { shape, preview }: Pick<RunRow, 'shape' | 'preview'>,
  leavesAt: number | null,
  pattern: PatternId | null,
): SegmentView[] {
  const all = shape.segments.filter((s) => s.t1 - s.t0 > 0);
  const finding = findingOf(all, leavesAt, preview, pattern);
  const shown =
    all.length <= maxSegments
      ? all
      : [
          ...all.slice(0, 2),
          ...[...all.slice(2)]
            .sort((a, b) => Number(b === finding) - Number(a === finding) || b.t1 - b.t0 - (a.t1 - a.t0))
            .slice(0, maxSegments - 2),
        ];
  const inOrder = [...shown].sort((a, b) => a.t0 - b.t0);
  return inOrder.map((s) => ({
    t0: s.t0,
    t1: s.t1,
    ...segmentWords(s, shape.features.resolutionA),
    span: spanWords(s.t0, s.t1),
    kind: s.kind,
    isFinding: s === finding,
  }));
}
