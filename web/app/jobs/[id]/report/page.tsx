import { loadPlace, Place } from '@/features/job/place';
import { ReportView } from '@/features/report/report-view';
import { loadReport } from '@/features/report/load';

export const metadata = { title: 'Report' };

interface Props {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ for?: string | string[] }>;
}

export default async function ReportPage({ params, searchParams }: Props) {
  const { id } = await params;
  const audience = (await searchParams).for === 'technician' ? 'technician' : 'customer';
  const report = await loadPlace('report', id, (jobId) => loadReport(jobId, audience));
  return (
    <Place place="report" title={report.title} jobId={Number(id)}>
      <ReportView report={report} jobId={Number(id)} />
    </Place>
  );
}
