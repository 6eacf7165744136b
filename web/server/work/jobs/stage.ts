import { checkTypes, isCheck, isWorking, type Assessment, type JobStage } from '@umbral/core';
import type { JobContent } from '../../record/rows.ts';

/**
 * Where the work stands, from what was entered last and how the device is now: a change is acting, what is entered once
 * it works is verifying.
 */
export function stageReached(content: JobContent, result: Pick<Assessment, 'state'> | null): JobStage {
  const { job, runs, checks, readings, injections, actions, proofs } = content;
  if (job.closed_at !== null) return 'close';
  const epochOf = (after: string | null): number => actions.findIndex((a) => a.action_key === after) + 1;
  const entries: { epoch: number; at: Date; stage: JobStage; fails?: boolean }[] = [
    ...actions.map((a, k) => ({ epoch: k + 1, at: a.created_at, stage: 'act' as const })),
    ...runs.map((r) => ({
      epoch: epochOf(r.after_action),
      at: r.created_at,
      stage: r.setup.unplugged.length > 0 || r.setup.assembly === 'half' ? ('isolate' as const) : ('call' as const),
    })),
    ...checks.map((c) => ({
      epoch: epochOf(c.after_action),
      at: c.created_at,
      stage: stageOfCheck(c.check_id, runs.length > 0),
    })),
    ...readings.map((r) => ({ epoch: epochOf(r.after_action), at: r.created_at, stage: 'measure' as const })),
    ...injections.map((i) => ({ epoch: epochOf(i.after_action), at: i.created_at, stage: 'locate' as const })),
    ...proofs.map((p) => ({
      epoch: epochOf(p.after_action),
      at: p.created_at,
      stage: p.result === 'fail' ? ('call' as const) : ('verify' as const),
      fails: p.result === 'fail',
    })),
  ];
  if (entries.length === 0) return 'look';
  const last = entries.reduce((a, b) => (b.epoch > a.epoch || (b.epoch === a.epoch && b.at >= a.at) ? b : a));
  // A proof that failed opens the work again, however well it looked before.
  const works = result?.state !== undefined && isWorking(result.state);
  if (actions.length > 0 && works && last.stage !== 'act' && !last.fails) return 'verify';
  return last.stage;
}

function stageOfCheck(id: string, isRecorded: boolean): JobStage {
  return (isCheck(id) && checkTypes[id].stage) || (isRecorded ? 'call' : 'look');
}
