import { route } from '@/server/route';
import { loadSampleYear } from '@/server/sample/year';

/** Loads a made-up year of closed jobs; answers with the number of jobs loaded. */
export const POST = route('lead', () => loadSampleYear(new Date()));
