import { answer, resultOf } from '@/server/errors';
import { refuseForeign } from '@/server/requests';
import { loadSampleFleet } from '@/server/sample/load';

/** Loads the sample fleet into an empty bench; answers with the number of jobs loaded. */
export async function POST(request: Request): Promise<Response> {
  return answer(
    await resultOf(async () => {
      refuseForeign(request);
      return loadSampleFleet(new Date());
    }),
  );
}
