import { parentPort } from 'node:worker_threads';
import { FormatError, traceOf, UnsureColumnsError } from '@umbral/core';
import { describeWithPreview } from './describe.ts';
import { startLogTask } from './log-task.ts';
import type { FromWorker, Samples, ToWorker } from './protocol.ts';
import { workBehindOthers } from './behind.ts';

workBehindOthers();

function send(message: FromWorker, transfer: ArrayBuffer[] = []): void {
  parentPort?.postMessage(message, transfer);
}

let reading: ReturnType<typeof startLogTask> | null = null;

function guarded(work: () => void): void {
  try {
    work();
  } catch (error) {
    reading = null;
    if (error instanceof UnsureColumnsError) {
      send({ type: 'unsure', file: error.file, problem: error.problem, header: error.header, sample: error.sample });
    } else if (error instanceof FormatError) {
      send({ type: 'refused', file: error.file, place: error.place, problem: error.problem });
    } else send({ type: 'crashed', message: error instanceof Error ? (error.stack ?? error.message) : String(error) });
  }
}

function sendRows(samples: Samples): void {
  send({ type: 'rows', samples }, [samples.t.buffer, samples.v.buffer, samples.i.buffer] as ArrayBuffer[]);
}

parentPort?.on('message', (message: ToWorker) => {
  guarded(() => {
    if (message.type === 'bytes') {
      reading?.push(message.bytes);
      send({ type: 'taken' });
    } else if (message.type === 'end') {
      if (reading) send({ type: 'done', result: reading.end() });
      reading = null;
    } else if (message.task.kind === 'log') reading = startLogTask(message.task, sendRows);
    else {
      const { run, device, samples, summary, limitSpans } = message.task;
      const trace = traceOf(run, samples, limitSpans);
      const described = describeWithPreview(device, run, trace, summary);
      send({ type: 'done', result: { run, ...described, repairs: [], warnings: [], startedAt: null } });
    }
  });
});

send({ type: 'ready' });
