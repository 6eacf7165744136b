import { traceOf } from '@umbral/core';
import { describeWithPreview } from '@/server/analysis/describe';
import { startLogTask } from '@/server/analysis/log-task';
import type { Described, Samples, Task } from '@/server/analysis/protocol';

/** Stands in for the analysis threads in unit tests: the same work, on the spot. The real threads run in the e2e tests. */
export class UnsureLog extends Error {}

export async function readLogOnThread(
  task: Extract<Task, { kind: 'log' }>,
  source: AsyncIterable<Uint8Array>,
  onRows: (samples: Samples) => Promise<void>,
): Promise<Described> {
  const queue: Samples[] = [];
  const log = startLogTask(task, (samples) => queue.push(samples));
  const drain = async (): Promise<void> => {
    for (const samples of queue.splice(0)) await onRows(samples);
  };
  for await (const bytes of source) {
    log.push(bytes);
    await drain();
  }
  const described = log.end();
  await drain();
  return described;
}

export function describeSamples({
  run,
  device,
  samples,
  summary,
  limitSpans,
}: Extract<Task, { kind: 'describe' }>): Promise<Described> {
  const described = describeWithPreview(device, run, traceOf(run, samples, limitSpans), summary);
  return Promise.resolve({ run, ...described, repairs: [], warnings: [], startedAt: null });
}
