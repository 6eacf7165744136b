import { exportPackage } from '@/server/work/exchange/packages';
import { attachmentHeader, idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** A job as a zipped case package. */
export const GET = route<{ id: string }>({ role: 'lead', scope: 'packages:read' }, async (_request, { id }) => {
  const { name, zip } = await exportPackage(idOf(id));
  return new Response(zip, {
    headers: { 'content-type': 'application/zip', 'content-disposition': attachmentHeader(name) },
  });
});
