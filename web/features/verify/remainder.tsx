import Link from '@/ui/link';
import { Lines } from './lines';
import type { VerifyView } from './view';

/** What was cured by what, what is off the board, what may come back, and where to go on. */
export function Remainder({ view }: { view: VerifyView }) {
  const { proposal, proof } = view;
  if (!proof) return null;
  return (
    <section aria-label="Result" className="flex min-w-0 flex-col gap-3">
      <div className="card p-3">
        <h2 className="font-bold">What the evidence supports</h2>
        {proposal ? (
          <>
            <p className="mt-1">
              {proposal.gradeName}
              {proposal.circuitName && `: ${proposal.circuitName}`}
              {proposal.target && `, ${proposal.target}`}
            </p>
            {proposal.fix && <p className="text-muted">{proposal.fix}</p>}
          </>
        ) : (
          <p className="mt-1 text-muted">No outcome yet. It needs a run, a check or a reading after the last change.</p>
        )}
        {proof.since && (
          <p className="mt-2 text-sm">
            {proof.since.says} {proof.since.normal}{' '}
            <Link
              className="underline"
              href={`/jobs/${view.jobId}/compare?runs=${encodeURIComponent(`${proof.since.before},${proof.since.now}`)}`}
            >
              Compare
            </Link>
          </p>
        )}
      </div>
      <Lines title="Not refitted" lines={proof.leftOff.map((x) => x.says)} />
      <Lines title="What may come back" lines={proof.risks} />
      <nav className="grid grid-cols-2 gap-2" aria-label="Go on">
        {view.isPractice ? (
          <Link className="button col-span-2" href={`/jobs/${view.jobId}`}>
            Finish the unit
          </Link>
        ) : (
          <>
            <Link className="button" href={`/jobs/${view.jobId}?close=1`}>
              Close the job
            </Link>
            <Link className="button" href={`/jobs/${view.jobId}/report`}>
              Report
            </Link>
          </>
        )}
      </nav>
    </section>
  );
}
