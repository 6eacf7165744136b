import { readInput } from '@umbral/core';
import { atlasAsked, loadAtlas } from '@/features/atlas/queries';
import { route } from '@/server/edges/route';

/** Some of the confirmed cases, as the atlas draws them. */
export const GET = route('technician', (request) => {
  const { job, text, after, ...chosen } = Object.fromEntries(new URL(request.url).searchParams);
  return loadAtlas(readInput(atlasAsked, { job: job || null, text, after: after || null, chosen }));
});
