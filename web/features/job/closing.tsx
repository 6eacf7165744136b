import { gradeWords } from '@/features/words';
import type { JobView } from './view';

/** What it turned out to be. */
export function Closing({ view }: { view: JobView }) {
  const { job } = view;
  return (
    <div className="card border-good">
      <h2 className="text-lg">Closed: {job.grade ? gradeWords[job.grade] : ''}</h2>
      {job.outcomeCircuit && (
        <p className="mt-1">
          {job.outcomeCircuit}
          {job.outcomeTarget && `: ${job.outcomeTarget}`}
        </p>
      )}
      {job.outcomeFix && <p className="mt-1 text-muted">{job.outcomeFix}</p>}
      {job.recallAt && <p className="mt-1 text-sm">Check again on {job.recallAt}.</p>}
      {job.outcomeOpen.length > 0 && (
        <details className="mt-1 text-sm">
          <summary>
            Closed without {job.outcomeOpen.length === 1 ? 'one proof' : `${job.outcomeOpen.length} proofs`}
          </summary>
          <ul className="mt-1 grid gap-0.5 text-muted">
            {job.outcomeOpen.map((o) => (
              <li key={o}>{o}</li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}
