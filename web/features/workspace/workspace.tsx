import { Hazard } from '@/ui/parts';
import { UnitPanel } from '@/features/practice/unit-panel';
import { Proofs, SinceChange } from '@/features/verify/proofs';
import { OthersHere } from '@/features/presence/others-here';
import type { Person } from '@/server/record/actor';
import { BoardPlaces } from '@/features/job/board-places';
import { Closing } from '@/features/job/closing';
import { Confirmations } from '@/features/job/confirmations';
import { NearCases } from '@/features/job/near-cases';
import { JobMenu } from './job-menu';
import { NextTests } from '@/features/job/next-tests';
import { PenumbraProvider } from '@/features/job/penumbra';
import { ProfileNote } from './profile-note';
import { RunPanel } from './run-panel';
import { Stages } from '@/features/job/stages';
import { Story } from '@/features/job/story';
import { UndoKey } from '@/features/job/undo-key';
import { Verdict } from '@/features/job/verdict';
import { StateLine } from '@/features/job/state-line';
import { UnderWayProvider } from '@/ui/kit/under-way';
import type { JobView } from '@/features/job/view';
import { DropRuns } from '@/features/record/drop-runs';
import { RunButtons } from '@/features/record/run-buttons';

/** The job: its story on the left, the chosen run in the middle, the verdict and the next test on the right. */
export function Workspace({ view, me }: { view: JobView; me: Person }) {
  const { job, chosen, practice } = view;
  const works = view.proof !== null && view.works;
  return (
    <UnderWayProvider>
      <UndoKey jobId={job.id} />
      <DropRuns view={view}>
        <PenumbraProvider predictions={chosen?.predictions ?? []}>
          <main className="mx-auto max-w-[1600px] px-4 pb-6">
            <div className="flex flex-wrap items-center gap-x-4 gap-y-1 pt-2.5">
              <div className="min-w-0 flex-1 basis-72">
                <h1 className="truncate text-xl" title={job.label}>
                  {practice ? 'Practice' : `Job ${job.number}`} · {job.label}
                </h1>
                <p className="truncate text-sm text-muted" title={job.complaint}>
                  {job.complaint ? `“${job.complaint}” · ` : ''}
                  {job.facts.join(' · ')}
                </p>
                <StateLine state={view.state} />
                <ProfileNote view={view} />
                <OthersHere jobId={job.id} me={me.id} version={job.version} judged={view.judged} />
              </div>
              <Stages jobId={job.id} version={job.version} stage={job.stage} />
              <JobMenu view={view} isLead={me.role === 'lead'} />
            </div>
            {job.hazards.length > 0 && (
              <div className="mt-2 grid gap-1.5">
                {job.hazards.map((h) => (
                  <Hazard key={h}>{h}</Hazard>
                ))}
              </div>
            )}
            <div className="mt-2 grid gap-3.5 lg:grid-cols-[186px_minmax(0,1fr)_344px]">
              {/* What to do next is reached before what was done: on a narrow screen, by the keyboard, and by ear. */}
              <section aria-label="Verdict" className="flex min-w-0 flex-col gap-3 lg:order-3">
                {practice && <UnitPanel practice={practice} hasRuns={view.runs.length > 0} />}
                {job.isClosed && !practice && <Closing view={view} />}
                {job.isClosed && !practice && <Confirmations view={view} />}
                {practice && !view.verdict ? null : works ? (
                  <>
                    <Proofs view={view} />
                    <details className="text-sm">
                      <summary className="min-h-9 py-1.5 font-semibold">Cause and evidence</summary>
                      <div className="mt-1 grid gap-2">
                        <Verdict view={view} />
                      </div>
                    </details>
                  </>
                ) : (
                  <>
                    <Verdict view={view} />
                    <NearCases near={view.near} jobId={job.id} />
                    <SinceChange view={view} />
                    {!job.isClosed && !practice?.truth && <NextTests view={view} />}
                  </>
                )}
                {practice && !view.verdict ? null : (
                  <BoardPlaces jobId={job.id} isChanged={view.actions.length > 0} isClosed={job.isClosed} />
                )}
              </section>
              <div className="min-w-0 lg:order-2">
                {chosen ? <RunPanel key={chosen.id} chosen={chosen} view={view} /> : <RunButtons view={view} first />}
              </div>
              <div className="lg:order-1">
                <Story view={view} />
              </div>
            </div>
          </main>
        </PenumbraProvider>
      </DropRuns>
    </UnderWayProvider>
  );
}
