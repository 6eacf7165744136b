import { formatPercent } from '@umbral/core';
import { Announce, Likely } from '@/ui/parts';
import { SuspectArea } from './penumbra';
import { Reassess } from './reassess';
import type { JobView, RunView, SuspectView } from './view';

/** Pattern and suspects with honest percentages; the reasons for and against are one click away. */
export function Verdict({ view }: { view: JobView }) {
  const { verdict, chosen } = view;
  const behind = view.isDue
    ? 'The verdict does not include the newest entries yet. They are saved.'
    : verdict?.isOld && 'This verdict is from an older engine version.';
  if (!verdict && view.isDue)
    return <Reassess jobId={view.job.id} why="There is no verdict yet. Your entries are saved." />;
  if (!verdict) {
    return (
      <div className="card">
        <h2 className="text-xl">No verdict yet</h2>
        <p className="mt-1 text-muted">Record a run, or add a check or a reading. The suspects appear here.</p>
      </div>
    );
  }
  const second = chosen?.pattern[1];
  return (
    <>
      <Announce says={verdictSays(view)} />
      <div>
        <h2 className="text-[1.55rem] leading-tight">{verdict.pattern?.name ?? 'No run yet'}</h2>
        {verdict.pattern && (
          <p className="mt-0.5 text-sm text-muted">
            {formatPercent(verdict.pattern.p)} · {verdict.says}
            {second && second.p >= 0.1 && ` · or “${second.name}”, ${formatPercent(second.p)}`}
          </p>
        )}
      </div>
      {behind && <Reassess jobId={view.job.id} why={behind} />}
      {verdict.group && <Group group={verdict.group} />}
      <ol aria-label="Suspects" className="grid gap-1.5">
        {verdict.suspects.map((s, k) => (
          <li key={s.id}>
            <SuspectArea id={s.id}>
              <Suspect
                suspect={s}
                leads={k < 3 && isNewReason(verdict.suspects, k)}
                predicted={chosen?.predictions.find((p) => p.id === s.id)?.predicted ?? []}
                run={chosen?.run.id ?? ''}
              />
            </SuspectArea>
          </li>
        ))}
      </ol>
      {verdict.warnings.length > 0 && (
        <ul className="grid gap-1 text-sm text-muted">
          {verdict.warnings.map((w) => (
            <li key={w}>{w}</li>
          ))}
        </ul>
      )}
    </>
  );
}

/** Pattern, first suspect and next step, as they are said aloud when they change. */
function verdictSays({ verdict, next }: JobView): string {
  const [first] = verdict?.suspects ?? [];
  return [
    verdict?.pattern && `Verdict: ${verdict.pattern.name}.`,
    first && `First suspect: ${first.name}, ${formatPercent(first.p)}.`,
    next[0] && `Next: ${next[0].name}.`,
  ]
    .filter(Boolean)
    .join(' ');
}

/** Suspects that cannot be told apart yet, said together, with the one test that splits them. */
function Group({ group }: { group: NonNullable<NonNullable<JobView['verdict']>['group']> }) {
  const { names, p, splitBy } = group;
  const list = `${names.slice(0, -1).join(', ')} or ${names.at(-1)}`;
  return (
    <p aria-label="Group of suspects" className="rounded-lg border border-line bg-raised px-3 py-1.5 text-sm">
      {formatPercent(p)} likely to be one of these: <strong>{list}</strong>.
      {splitBy !== null && <span className="text-muted"> To tell them apart: {splitBy}.</span>}
    </p>
  );
}

const bestReason = ({ reasons }: SuspectView): SuspectView['reasons'][number] | undefined =>
  reasons.find((r) => r.for > 0) ?? reasons[0];

/** What stands under a suspect above is not said again. */
const isNewReason = (suspects: readonly SuspectView[], k: number): boolean =>
  !suspects.slice(0, k).some((s) => bestReason(s)?.item === bestReason(suspects[k])?.item);

const fitWords = { yes: 'fits', either: 'perhaps', no: 'does not' } as const;
const fitTone = { yes: 'font-semibold text-good', either: 'text-muted', no: 'font-semibold text-decide' } as const;

function Suspect({
  suspect,
  leads,
  predicted,
  run,
}: {
  suspect: SuspectView;
  leads: boolean;
  predicted: RunView['predictions'][number]['predicted'];
  run: string;
}) {
  const best = bestReason(suspect);
  return (
    <Likely p={suspect.p}>
      <details className="group">
        <summary className="grid grid-cols-[1fr_auto] gap-x-2 px-3 py-1.5 marker:content-none">
          <span>
            {suspect.name}
            {suspect.target && <span className="text-[0.9rem] text-muted"> · {suspect.target}</span>}
          </span>
          <strong>{formatPercent(suspect.p)}</strong>
          {best && leads && (
            <span className="col-span-2 truncate text-[0.83rem] text-muted group-open:hidden">{best.item}</span>
          )}
        </summary>
        {predicted.length > 0 && (
          <div className="border-t border-line bg-raised px-3 pt-2 text-sm">
            <p className="text-muted">If this is the fault, run {run} would have shown</p>
            <ul className="mt-0.5 grid gap-1">
              {predicted.map((f) => (
                <li key={f.says} className="grid grid-cols-[5.2em_1fr] gap-1.5">
                  <span className={fitTone[f.fits]}>{fitWords[f.fits]}</span>
                  <span>{f.says}</span>
                </li>
              ))}
            </ul>
            <p className="mt-2 text-muted">Evidence for and against</p>
          </div>
        )}
        <ul
          className={`grid gap-1 bg-raised px-3 py-2 text-sm ${predicted.length > 0 ? 'pt-0.5' : 'border-t border-line'}`}
        >
          {suspect.reasons.length === 0 && (
            <li className="text-muted">No evidence for or against it. This is the base rate.</li>
          )}
          {suspect.reasons.slice(0, 10).map((r, k) => (
            <li key={k} className="grid grid-cols-[5.2em_1fr] gap-1.5">
              <span className={r.for > 0 ? 'font-semibold text-good' : 'font-semibold text-decide'}>
                {r.for > 0 ? 'for' : 'against'} {Math.abs(r.for).toFixed(1)}
              </span>
              <span>{r.item}</span>
            </li>
          ))}
          {suspect.reasons.length > 0 && (
            <li className="text-xs text-muted">Weights in decibans: 3 doubles the odds, 10 makes them tenfold.</li>
          )}
        </ul>
      </details>
    </Likely>
  );
}
