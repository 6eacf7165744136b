import { answer, ExpectedError, failure } from '@/server/errors';
import { loadReport } from '@/features/report/load';
import { reportPdf } from '@/features/report/pdf';
import { idOf } from '@/server/requests';

/** The report of a job as a PDF: `?for=customer` or `?for=technician`. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  try {
    const id = idOf((await params).id);
    const audience = new URL(request.url).searchParams.get('for') ?? 'customer';
    if (audience !== 'customer' && audience !== 'technician')
      throw new ExpectedError('input', 'for: expected "customer" or "technician"');
    const pdf = await reportPdf(await loadReport(id, audience));
    return new Response(new Uint8Array(pdf), {
      headers: {
        'content-type': 'application/pdf',
        'content-disposition': `inline; filename="umbral-job-${String(id).padStart(4, '0')}-${audience}.pdf"`,
      },
    });
  } catch (error) {
    return answer(failure(error));
  }
}
