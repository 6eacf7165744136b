import { importPackage } from '@/server/work/exchange/packages';
import { bodyOf, fileNameOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** Imports a zipped case package; answers with the number of the new job. */
export const POST = route(
  { role: 'technician', scope: 'packages:write' },
  (request) => importPackage(bodyOf(request), fileNameOf(request), request.signal),
  { once: true },
);
