import {
  bareCase,
  circuitNames,
  describe,
  fullScaleA,
  oddSetup,
  patternNames,
  readTypedRun,
  sayEvidence,
  unknownInstrument,
  unknownSetup,
  type Case,
  type DeviceClass,
  type Feed,
  type Run,
  type Shape,
} from '@umbral/core';
import { nextName } from '@/features/job/next-name';
import { segmentWords, spanWords } from '@/features/words';
import { readLogOnThread } from '@/server/analysis/pool';
import * as engine from '@/server/analysis/engine';
import { previewOf } from '@/server/analysis/describe';
import { silhouettePath, thinSheet } from '@/ui/silhouette';

/** What the quick read answers. */
export interface QuickAnswer {
  pattern: string;
  patternP: number;
  or: { name: string; p: number } | null;
  silhouette: string;
  segments: string[];
  suspects: { name: string; p: number; because: string }[];
  next: string | null;
  notes: string[];
}

async function answerOf(value: Case, shape: Shape, levels: (number | null)[], notes: string[]): Promise<QuickAnswer> {
  const result = await engine.assess(value, new Map([[value.runs[0].id, shape]]), null);
  const [run] = result.runs;
  const [top, second] = run.pattern;
  return {
    pattern: patternNames[top.id],
    patternP: top.p,
    or: second && second.p >= 0.1 ? { name: patternNames[second.id], p: second.p } : null,
    silhouette: silhouettePath(thinSheet(levels), fullScaleA(value.device, value.runs[0].feed)),
    segments: run.segments
      .slice(0, 6)
      .map((s) => `${spanWords(s.t0, s.t1)}: ${segmentWords(s, shape.features.resolutionA).level}`),
    suspects: result.circuits.slice(0, 4).map((c) => ({
      name: circuitNames[c.id],
      p: c.p,
      because: c.evidence.length > 0 ? sayEvidence(c.evidence[0]) : '',
    })),
    next: result.next[0] ? nextName(result.next[0]) : null,
    notes: [...oddSetup(value.device, value.runs[0], shape), ...notes, ...run.warnings],
  };
}

/** Answers a typed line without keeping anything. */
export async function quickTyped(line: string, deviceClass: DeviceClass): Promise<QuickAnswer> {
  const { run, trace } = readTypedRun(line, 'r1');
  const value = bareCase({ class: deviceClass }, [run]);
  return answerOf(value, describe(value, run, trace, null), previewOf(trace).mean, []);
}

/** Answers a log without keeping anything. */
export async function quickLog(
  source: AsyncIterable<Uint8Array>,
  fileName: string,
  feed: Feed,
  deviceClass: DeviceClass,
  signal: AbortSignal,
): Promise<QuickAnswer> {
  const run: Run = {
    id: 'r1',
    file: fileName,
    typed: null,
    feed,
    quantity: 'current',
    instrument: unknownInstrument,
    setup: { ...unknownSetup, unplugged: [] },
    markers: [],
    contract: null,
    after: null,
  };
  const value = bareCase({ class: deviceClass }, [run]);
  const task = { kind: 'log' as const, run, device: value.device, fileName, mapping: null, units: {} };
  const read = await readLogOnThread(task, source, () => Promise.resolve(), signal);
  return answerOf({ ...value, runs: [read.run] }, read.shape, read.preview.mean, [...read.repairs, ...read.warnings]);
}
