import { closedJobs } from './closed-jobs.ts';
import { inTheQueue, opened } from './in-the-queue.ts';
import { onTheBench } from './on-the-bench.ts';
import { repairs } from './repairs.ts';
import type { SampleJob } from './sample-job.ts';

/** Made-up jobs in every stage of the work. */
export const fleet: SampleJob[] = [...onTheBench, ...inTheQueue, ...closedJobs, ...opened, ...repairs];
