import { collectRun, LogReader, TraceCollector, type LogResult } from '@umbral/core';
import { describeWithPreview } from './describe.ts';
import type { Described, Samples, Task } from './protocol.ts';

const chunkRows = 65_536;

/** Rows on their way to the database, in blocks. */
class Chunker {
  private readonly onRows: (samples: Samples) => void;

  private t = new Float64Array(chunkRows);
  private v = new Float32Array(chunkRows);
  private i = new Float32Array(chunkRows);
  private length = 0;

  constructor(onRows: (samples: Samples) => void) {
    this.onRows = onRows;
  }

  add(t: number, v: number, i: number): void {
    this.t[this.length] = t;
    this.v[this.length] = v;
    this.i[this.length] = i;
    if (++this.length === chunkRows) this.flush();
  }

  flush(): void {
    if (this.length === 0) return;
    this.onRows({
      t: this.t.slice(0, this.length),
      v: this.v.slice(0, this.length),
      i: this.i.slice(0, this.length),
    });
    this.length = 0;
  }
}

/**
 * Reads one log, block by block: rows go on in chunks, and at the end the run is described.
 *
 * @returns `push` takes bytes, `end` gives what was found out; both throw FormatErrors
 */
export function startLogTask(task: Extract<Task, { kind: 'log' }>, onRows: (samples: Samples) => void) {
  const collector = new TraceCollector();
  const chunker = new Chunker(onRows);
  const reader = new LogReader(
    (t, v, i) => {
      collector.add(t, v, i);
      chunker.add(t, v, i);
    },
    {
      file: task.fileName,
      mapping: task.mapping,
      units: task.units,
      rateHz: task.run.instrument.rateHz,
      instrument: task.run.instrument,
    },
  );
  const describe = (log: LogResult): Described => {
    chunker.flush();
    const read = collectRun(task.run, collector, log);
    const described = describeWithPreview(task.device, read.run, read.trace, read.summary);
    return { run: read.run, ...described, repairs: read.repairs, warnings: read.warnings, startedAt: log.startedAt };
  };
  return { push: (bytes: Uint8Array): void => reader.push(bytes), end: (): Described => describe(reader.finish()) };
}
