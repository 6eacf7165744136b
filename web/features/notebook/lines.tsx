import Link from '@/ui/link';
import { jobNumber } from '@/features/words';
import type { LineView } from './view';

/** Lines of the notebook: this much, at that setup, was that. */
export function NotebookLines({
  lines,
  onCorrect,
}: {
  lines: readonly LineView[];
  /** Opens a typed line to be corrected; left out where that is not done here. */
  onCorrect?: (note: number) => void;
}) {
  return (
    <ul className="grid gap-1.5">
      {lines.map((line) => (
        <li
          key={line.key}
          className="card grid break-inside-avoid gap-x-4 gap-y-0.5 py-2 sm:grid-cols-[11em_minmax(0,1fr)]"
        >
          <p>
            <strong className="text-xl">{line.level || 'no number'}</strong>
            <span className="block text-sm text-muted">{line.setup}</span>
          </p>
          <div className="min-w-0">
            <ul>
              {line.causes.slice(0, 4).map((c) => (
                <li key={c.circuit} className="flex flex-wrap items-baseline gap-x-2">
                  <span className="font-bold">{c.circuit}</span>
                  <span>{c.says}</span>
                  {c.elements && <span className="min-w-0 truncate text-sm text-muted">{c.elements}</span>}
                </li>
              ))}
              {line.causes.length > 4 && (
                <li className="text-sm text-muted">
                  {line.causes.length === 5 ? 'and one other' : `and ${line.causes.length - 4} others`}
                </li>
              )}
            </ul>
            <p className="text-sm text-muted">
              {line.model} · {line.last}
              {line.who && ` · ${line.who}`}
              {line.origin && ` · from ${line.origin}`}
              {line.jobs.length > 0 && ' · '}
              {line.jobs.slice(-5).map((job) => (
                <Link key={job} href={`/jobs/${job}`} className="mr-1.5 inline-block underline print:no-underline">
                  {jobNumber(job)}
                </Link>
              ))}
              {line.note !== null && onCorrect && (
                <button type="button" className="ml-1 underline print:hidden" onClick={() => onCorrect(line.note ?? 0)}>
                  Edit this line
                </button>
              )}
            </p>
          </div>
        </li>
      ))}
    </ul>
  );
}
