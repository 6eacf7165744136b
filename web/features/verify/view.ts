import { circuitNames, isWorking, type Feed, type OutcomeProposal, type ProofState } from '@umbral/core';
import { timersOf, type TimerView } from '@/features/job/view';
import { gradeName, jobNumber, runTitle } from '@/features/words';
import { db } from '@/server/record/db';
import { latestAssessment, loadContent, newestAction } from '@/server/work/jobs/jobs';
import { runOf } from '@/server/record/rows';

export interface VerifyView {
  jobId: number;
  version: number;
  title: string;
  isClosed: boolean;
  /** A practice unit, which is finished on its own page. */
  isPractice: boolean;
  /** It was seen to work since the last change. */
  works: boolean;
  proof: ProofState | null;
  proposal: (OutcomeProposal & { gradeName: string; circuitName: string }) | null;
  timers: TimerView[];
  /** Runs since the last change, the newest first. */
  runs: { key: string; title: string; feed: Feed; port: number; flipped: boolean }[];
  hazards: string[];
}

/** Everything that the page for proving a repair shows. */
export async function loadVerifyView(jobId: number): Promise<VerifyView> {
  const q = db();
  const content = await loadContent(q, jobId);
  const result = (await latestAssessment(q, jobId))?.result ?? null;
  const { job, runs } = content;
  const newest = newestAction(content);
  const proposal = result?.conclusion?.outcome ?? null;
  return {
    jobId,
    version: job.version,
    title: `Job ${jobNumber(jobId)} · ${job.label}`,
    isClosed: job.closed_at !== null,
    isPractice: job.is_practice,
    works: result?.state !== undefined && isWorking(result.state),
    proof: result?.proof ?? null,
    proposal: proposal && {
      ...proposal,
      gradeName: gradeName(proposal.grade),
      circuitName: proposal.circuit ? circuitNames[proposal.circuit] : '',
    },
    timers: timersOf(content),
    runs: runs
      .filter((r) => r.after_action === newest)
      .map((r) => ({
        key: r.run_key,
        title: `${r.run_key}: ${runTitle(runOf(r))}`,
        feed: r.feed,
        port: r.setup.port ?? 1,
        flipped: r.setup.flipped,
      }))
      .reverse(),
    hazards: [
      'Use a limited supply before you connect the battery. A remaining short heats up at once. Stay with it while it charges.',
      ...(job.intake.batterySwollen ? ['The swollen battery stays out. Charge and soak only with a good one.'] : []),
    ],
  };
}
