import { loadReport } from '@/features/report/load';
import { reportPdf } from '@/features/report/pdf';
import { ExpectedError } from '@/server/record/errors';
import { idOf } from '@/server/record/requests';
import { route } from '@/server/edges/route';

/** The report of a job as a PDF: `?for=customer` or `?for=technician`. */
export const GET = route<{ id: string }>('technician', async (request, params) => {
  const id = idOf(params.id);
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
});
