import { Worker } from 'node:worker_threads';
import { orderWork } from '@umbral/core';
import { threadFor } from './thread.ts';

/** What the thread for orders answers. */
export const orderAnswers = {
  order: (...asked: Parameters<typeof orderWork>): ReturnType<typeof orderWork> => orderWork(...asked),
};

const onThread = threadFor(
  () => new Worker(new URL('./order.worker.ts', import.meta.url)),
  orderAnswers,
  'Ordering the work',
);

/** The order of work, found on a thread of its own: hundreds of open jobs take a second. */
export const orderOnThread = (...asked: Parameters<typeof orderWork>): Promise<ReturnType<typeof orderWork>> =>
  onThread((answers) => answers.order(...asked));
