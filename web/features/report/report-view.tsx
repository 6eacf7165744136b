import Link from '@/ui/link';
import { Silhouette, silhouettePath } from '@/ui/silhouette';
import type { Report } from './content';
import { PrintButton } from './print-button';

const audiences = { customer: 'For the customer', technician: 'For the next technician' } as const;

/** A report on the screen, as it is printed. */
export function ReportView({ report, jobId }: { report: Report; jobId: number }) {
  const full = Math.max(...report.runs.flatMap((r) => r.levels.map((x) => x ?? 0)), 0);
  const pdf = `/api/jobs/${jobId}/report?for=${report.audience}`;
  return (
    <>
      <nav aria-label="Kind of report" className="mt-2 flex flex-wrap gap-2 print:hidden">
        {Object.entries(audiences).map(([id, words]) => (
          <Link
            key={id}
            href={`/jobs/${jobId}/report?for=${id}`}
            aria-current={id === report.audience ? 'page' : undefined}
            className={`button ${id === report.audience ? 'border-decide bg-decide-soft' : ''}`}
          >
            {words}
          </Link>
        ))}
        <PrintButton pdf={pdf} />
      </nav>
      <article className="card mx-auto mt-3 max-w-3xl px-6 py-5 print:mt-0 print:max-w-none print:border-0 print:p-0">
        <h2 className="text-2xl">{report.title}</h2>
        <dl className="mt-2 grid grid-cols-[7rem_1fr] gap-x-3 gap-y-0.5">
          {report.facts.map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-muted">{name}</dt>
              <dd className="min-w-0 break-words">{value}</dd>
            </div>
          ))}
        </dl>
        {report.sections.map((s) => (
          <section key={s.title} aria-label={s.title} className="mt-3 break-inside-avoid">
            <h3 className="font-bold">{s.title}</h3>
            <ul className="grid gap-0.5">
              {s.lines.map((l, k) => (
                <li key={k} className="break-words">
                  {l}
                </li>
              ))}
            </ul>
          </section>
        ))}
        {report.runs.length > 0 && (
          <section aria-label="Runs" className="mt-3">
            <h3 className="font-bold">Runs</h3>
            <ul className="grid">
              {report.runs.map((r) => (
                <li
                  key={r.key}
                  className="grid break-inside-avoid grid-cols-[150px_minmax(0,1fr)] gap-x-3 border-b border-line py-1.5 text-sm"
                >
                  <Silhouette path={silhouettePath(r.levels, full)} label={r.seen} strong className="h-7 w-[150px]" />
                  <span className="min-w-0 break-words">
                    <strong>{r.title}</strong>
                    {r.state && <span className="text-muted"> · {r.state}</span>}
                    {r.setup && <span className="block text-muted">{r.setup}</span>}
                    <span className="block">{r.seen}</span>
                    {r.hash && <span className="block text-xs break-all text-muted">SHA-256 {r.hash}</span>}
                  </span>
                </li>
              ))}
            </ul>
          </section>
        )}
        {report.tables.map((t) => (
          <section key={t.title} aria-label={t.title} className="mt-3">
            <h3 className="font-bold">{t.title}</h3>
            <table className="w-full text-sm">
              <tbody>
                {t.rows.map((r, k) => (
                  <tr key={k} className="break-inside-avoid border-b border-line align-top">
                    <th scope="row" className="w-2/5 py-1 pr-3 text-left font-normal break-words">
                      {r.what}
                    </th>
                    <td className="py-1 pr-3 break-words">{r.seen}</td>
                    <td className="w-28 py-1 text-muted">{r.state}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </section>
        ))}
        {report.pictures.length > 0 && (
          <section aria-label="Pictures" className="mt-3">
            <h3 className="font-bold">Pictures</h3>
            <ul className="flex flex-wrap gap-3">
              {report.pictures.map((p) => (
                <li
                  key={`${p.around ? 'board' : 'job'} ${p.id}`}
                  className={`break-inside-avoid text-sm ${p.around ? 'w-64' : 'w-40'}`}
                >
                  <img
                    src={
                      p.around
                        ? `/api/boards/pictures/${p.id}?x=${p.around.x}&y=${p.around.y}`
                        : `/api/attachments/${p.id}?small`
                    }
                    alt={p.caption}
                    className={p.around ? 'h-48 w-64 object-cover' : 'h-28 w-40 object-cover'}
                  />
                  {p.caption}
                </li>
              ))}
            </ul>
          </section>
        )}
      </article>
    </>
  );
}
