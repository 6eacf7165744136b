import { route } from '@/server/edges/route';
import { loadSampleFleet } from '@/server/work/sample/load';

/** Loads the sample fleet into an empty bench; answers with the number of jobs loaded. */
export const POST = route('lead', () => loadSampleFleet(new Date()));
