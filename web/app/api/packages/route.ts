import { importPackage } from '@/server/packages';
import { bodyOf, fileNameOf } from '@/server/requests';
import { route } from '@/server/route';

/** Imports a zipped case package; answers with the number of the new job. */
export const POST = route(
  { role: 'technician', scope: 'packages:write' },
  (request) => importPackage(bodyOf(request), fileNameOf(request), request.signal),
  { once: true },
);
