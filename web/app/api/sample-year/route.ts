import { readInput } from '@umbral/core';
import * as yup from 'yup';
import { route } from '@/server/edges/route';
import { loadSampleYear, yearJobs, yearProgress } from '@/server/work/sample/year';

const jobsInput = yup.number().integer().min(1).max(yearJobs).default(yearJobs);

/** Loads a made-up year of closed jobs; answers with the number of jobs loaded, when they are. `jobs` asks for fewer. */
export const POST = route('lead', (request) => {
  const asked = new URL(request.url).searchParams.get('jobs') ?? undefined;
  return loadSampleYear(new Date(), readInput(jobsInput, asked));
});

/** How far that is; null while none is under way. */
export const GET = route('present', () => Promise.resolve(yearProgress()));
