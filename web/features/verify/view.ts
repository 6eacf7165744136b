import { circuitNames, type Feed, type OutcomeProposal, type ProofState } from '@umbral/core';
import { timersOf, type NowView, type TimerView } from '@/features/job/view';
import { jobNumber, runTitle } from '@/features/words';
import { db } from '@/server/platform/db';
import { latestAssessment, loadContent } from '@/server/jobs/jobs';
import { runOf } from '@/server/rows';

export interface VerifyView {
  jobId: number;
  version: number;
  title: string;
  isClosed: boolean;
  /** A practice unit, which is finished on its own page. */
  isPractice: boolean;
  /** Empty before anything was changed. */
  now: NowView[];
  /** It was switched on since the last change. */
  isTried: boolean;
  proof: ProofState | null;
  proposal: (OutcomeProposal & { circuitName: string }) | null;
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
  const { job, actions, runs } = content;
  const newest = actions.at(-1)?.action_key ?? null;
  const proposal = result?.conclusion?.outcome ?? null;
  return {
    jobId,
    version: job.version,
    title: `Job ${jobNumber(jobId)} · ${job.label}`,
    isClosed: job.closed_at !== null,
    isPractice: job.is_practice,
    now: actions.length > 0 ? (result?.now ?? []) : [],
    isTried: result?.conclusion?.isTried ?? true,
    proof: result?.proof ?? null,
    proposal: proposal && { ...proposal, circuitName: proposal.circuit ? circuitNames[proposal.circuit] : '' },
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
