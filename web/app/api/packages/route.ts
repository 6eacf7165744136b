import { answer, resultOf } from '@/server/errors';
import { importPackage } from '@/server/packages';
import { bodyOf, fileNameOf, refuseForeign } from '@/server/requests';

/** Imports a zipped case package; answers with the number of the new job. */
export async function POST(request: Request): Promise<Response> {
  return answer(
    await resultOf(async () => {
      refuseForeign(request);
      return importPackage(bodyOf(request), fileNameOf(request), request.signal);
    }),
  );
}
