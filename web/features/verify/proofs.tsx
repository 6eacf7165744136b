import { formatPercent, patternTypes, sayMinutes } from '@umbral/core';
import Link from '@/ui/link';
import type { JobView } from '@/features/job/view';
import { Lines } from './lines';
import { TimeLeft } from './time-left';

/** Once it works: what was cured by what, what is still to be shown, what was left off, what may come back. */
export function Proofs({ view }: { view: JobView }) {
  const { proof, proposal, verdict, job } = view;
  if (!proof || !verdict) return null;
  const cause = verdict.suspects[0];
  const open = proof.protocols.filter((p) => p.steps.some((s) => s.result !== 'pass' && s.result !== 'not-done'));
  const done = proof.protocols.filter((p) => !open.includes(p));
  const [next] = open;
  // It works with a good thing in its place: nothing is repaired.
  const isFoundOnly = proposal?.grade === null;
  return (
    <section aria-label="Proofs" className="grid gap-3">
      <div>
        <h2 className="text-[1.55rem] leading-tight">
          {isFoundOnly ? 'Found, not repaired' : next ? 'Prove the repair' : 'Everything is proved'}
        </h2>
        {isFoundOnly && proposal.target && (
          <p className="mt-0.5 text-sm">The fault is in {proposal.target}. Repair or replace that, then prove it.</p>
        )}
        {proposal?.fix && <p className="mt-0.5 text-sm text-muted">Fixed by: {proposal.fix.replace(/\.$/, '')}.</p>}
        {cause && cause.id !== 'none' && !isFoundOnly && (
          <p className="text-sm text-muted">
            Most likely cause: {cause.name}, {formatPercent(cause.p)}.
          </p>
        )}
      </div>
      {next && (
        <section
          aria-label="Next proof"
          className="arrives rounded-[14px] border-2 border-decide bg-raised px-3.5 py-3"
        >
          <h3 className="text-lg">{next.name}</h3>
          <p className="text-sm">{next.says}.</p>
          <p className="text-[0.87rem] text-muted">
            {sayMinutes(next.minutes)} · shows {next.proves}
          </p>
          {view.timers
            .filter((t) => t.protocol === next.id)
            .map((t) => (
              <p key={t.step} className="text-sm">
                <TimeLeft dueAt={t.dueAt} />
              </p>
            ))}
          <Link className="button mt-2 w-full" href={`/jobs/${job.id}/verify`}>
            Verify <kbd aria-hidden>w</kbd>
          </Link>
        </section>
      )}
      {proof.protocols.length > 0 && (
        <ol aria-label="Remaining checks" className="grid gap-1 text-sm">
          {[...open.slice(1), ...done].map((p) => {
            const shown = p.steps.filter((s) => s.result === 'pass').length;
            const failed = p.steps.some((s) => s.result === 'fail');
            return (
              <li key={p.id} className="flex justify-between gap-3 border-b border-dotted border-line py-0.5">
                <span className={done.includes(p) ? 'text-muted' : ''}>{p.name}</span>
                <span className={failed ? 'font-semibold text-decide' : done.includes(p) ? 'text-good' : 'text-muted'}>
                  {failed ? 'failed' : done.includes(p) ? 'done' : `${shown} of ${p.steps.length}`}
                </span>
              </li>
            );
          })}
        </ol>
      )}
      <Lines title="Not refitted" lines={proof.leftOff.map((x) => x.says)} />
      <Lines title="What may come back" lines={proof.risks} />
      {!next && !job.isClosed && (
        <p className="text-sm">
          Everything the customer complained about was tested. Close the job and print the report.
        </p>
      )}
    </section>
  );
}

/** After a change that did not make it well: what the change did, and whether what is there now is new. */
export function SinceChange({ view }: { view: JobView }) {
  const since = view.proof?.since;
  if (!since || since.isNormal) return null;
  const failing = view.verdict?.pattern && patternTypes[view.verdict.pattern.id].healthyWhen === undefined;
  return (
    <p aria-label="Since the last change" className="rounded-lg border border-line bg-raised px-3 py-1.5 text-sm">
      <strong>Since {since.action}:</strong> {since.says} {since.normal}{' '}
      {failing && (
        <Link
          className="underline"
          href={`/jobs/${view.job.id}/compare?runs=${encodeURIComponent(`${since.before},${since.now}`)}`}
        >
          Compare
        </Link>
      )}
    </p>
  );
}
