import { answer, failure } from '@/server/errors';
import { exportPackage } from '@/server/packages';
import { idOf } from '@/server/requests';

/** A job as a zipped case package. */
export async function GET(_request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    const { name, zip } = await exportPackage(idOf((await params).id));
    return new Response(zip, {
      headers: { 'content-type': 'application/zip', 'content-disposition': `attachment; filename="${name}"` },
    });
  } catch (error) {
    return answer(failure(error));
  }
}
