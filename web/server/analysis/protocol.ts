import type { ColumnMapping, Device, Run, Shape, Summary, Trace } from '@umbral/core';
import type { Preview } from '../record/rows/run-rows.ts';

export type Samples = Pick<Trace, 't' | 'v' | 'i'>;

/** Work for the analysis thread. */
export type Task =
  | {
      kind: 'log';
      run: Run;
      device: Device;
      fileName: string;
      mapping: ColumnMapping | null;
      units: Record<string, string>;
    }
  | {
      kind: 'describe';
      run: Run;
      device: Device;
      samples: Samples;
      summary: Summary | null;
      limitSpans: Trace['limitSpans'];
    };

export type ToWorker = { type: 'task'; task: Task } | { type: 'bytes'; bytes: Uint8Array } | { type: 'end' };

export interface Described {
  run: Run;
  shape: Shape;
  preview: Preview;
  repairs: string[];
  warnings: string[];
  startedAt: string | null;
}

export type FromWorker =
  | { type: 'ready' }
  | { type: 'taken' }
  | { type: 'rows'; samples: Samples }
  | { type: 'done'; result: Described }
  | { type: 'unsure'; file: string; problem: string; header: string[] | null; sample: string[][] }
  | { type: 'refused'; file: string; place: string; problem: string }
  | { type: 'crashed'; message: string };
