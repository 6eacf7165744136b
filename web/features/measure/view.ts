import { isWorking, type LadderRung } from '@umbral/core';
import type { ReadingMode } from '@umbral/core/words';
import { suspectsOf, type Suspected } from '@/features/suspects/suspects';
import { jobNumber } from '@/features/words';
import { db } from '@/server/record/db';
import { loadBoard, type BoardView } from '@/features/board/view';
import { latestAssessment } from '@/server/work/jobs/jobs';
import { loadBoardPlan, modelKeyOf, referencesOf, type ReferenceRow } from '@/server/work/opened/measure';
import { sayGood, sayReference, sayTest, type TestView } from './words';

export interface RungView extends LadderRung {
  /** What a good board reads here, by mode, in words; only what was measured or stands in the profile. */
  good: string[];
}

export interface MeasureView {
  jobId: number;
  title: string;
  profile: string;
  /** Id of the model's profile; empty where there is none. */
  profileId: string;
  isOwn: boolean;
  /** True where good readings of this model can be kept. */
  hasModel: boolean;
  hazards: string[];
  rungs: RungView[];
  suspects: Suspected[];
  isDecided: boolean;
  /** It was seen to work since the last change. */
  works: boolean;
  contradictions: string[];
  next: TestView[];
  probes: TestView[];
  board: BoardView;
}

/** Everything that the page for measuring at the opened device shows. */
export async function loadMeasureView(jobId: number): Promise<MeasureView> {
  const q = db();
  const { content, plan, known } = await loadBoardPlan(q, jobId);
  const { job } = content;
  const references = await referencesOf(q, job);
  const latest = await latestAssessment(q, jobId);
  const profile = job.profile ? (known?.profile ?? null) : null;
  const board = await loadBoard(
    q,
    { model: modelKeyOf(job), modelName: profile?.name ?? job.model, profile, jobId },
    plan.elements,
  );
  return {
    jobId,
    title: `Job ${jobNumber(jobId)} · ${job.label}`,
    profile: plan.profile,
    // The bench's simulated device is another than the one that is practised on.
    profileId: job.is_practice ? '' : (job.profile ?? ''),
    isOwn: plan.closeness === 'own',
    hasModel: job.profile !== null || job.model.trim() !== '',
    hazards: hazardsOf(job.intake.batterySwollen && !job.intake.batteryIsolated, job.intake.liquid),
    rungs: plan.rungs.map((r) => ({ ...r, good: goodOf(r, references, known?.profile.references ?? []) })),
    suspects: latest ? suspectsOf(latest.result.circuits) : [],
    isDecided: plan.isDecided,
    works: latest?.result.state !== undefined && isWorking(latest.result.state),
    contradictions: plan.contradictions.map((c) => c.says),
    next: plan.next.map(sayTest),
    probes: plan.probes.map(sayTest),
    board,
  };
}

/** The hazards that apply before a probe touches a board. */
export function hazardsOf(swollen: boolean, liquid: boolean): string[] {
  return [
    ...(swollen ? ['Swollen battery: stop here. Move it to a fire-safe place before anything else.'] : []),
    'Disconnect the battery and every supply before diode mode, resistance, or probing between small parts. A slip shorts live parts.',
    ...(liquid ? ['Liquid damage: wear gloves. It may still be wet under the chips.'] : []),
  ];
}

function goodOf(
  rung: LadderRung,
  kept: readonly ReferenceRow[],
  stated: readonly { where: string; mode: ReadingMode; value: number }[],
): string[] {
  return (['voltage', 'diode', 'resistance'] as const).flatMap((mode) => {
    const last = kept.findLast((r) => r.where === rung.id && r.mode === mode);
    if (last) {
      // Those that were taken otherwise are no more of the same.
      const alike = kept.filter(
        (r) => r.where === rung.id && r.mode === mode && r.phase === last.phase && r.red_probe === last.red_probe,
      );
      return [sayGood(mode, alike)];
    }
    const spec = stated.find((r) => r.where === rung.id && r.mode === mode);
    return spec && mode !== 'voltage' ? [`${sayReference(mode, spec.value, false, 'ground')} (profile)`] : [];
  });
}
