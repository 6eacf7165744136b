import { loadAtlas } from '@/features/atlas/queries';
import { route } from '@/server/route';

/** Every confirmed case as the atlas draws it; the nearest to a job first where one is named. */
export const GET = route('technician', (request) => {
  const job = Number(new URL(request.url).searchParams.get('job') ?? '');
  return loadAtlas(Number.isInteger(job) && job > 0 ? job : null);
});
