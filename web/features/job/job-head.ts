import { circuitNames, type Profile } from '@umbral/core';
import type { RunningWait } from '@/server/work/entries/waits';
import type { KnownProfile } from '@/server/work/shop/profiles';
import type { JobContent, JobRow } from '@/server/record/rows';
import { dayWords, jobNumber } from '@/features/words';

/** What stands at the head of a job. */
export interface JobHead {
  id: number;
  version: number;
  number: string;
  label: string;
  complaint: string;
  stage: string;
  isOpened: boolean;
  isClosed: boolean;
  grade: JobRow['outcome_grade'];
  outcomeCircuit: string | null;
  outcomeTarget: string;
  outcomeFix: string;
  outcomeOpen: string[];
  recallAt: string | null;
  /** What it waits for now, what ends first first. */
  waits: RunningWait[];
  hazards: string[];
  facts: string[];
  /** The model's profile in the version that the job uses, and the newest where that is another. */
  profile: { id: string; name: string; version: number; newest: number | null } | null;
}

/** Names that a part can be entered by. */
export function elementNames({ converters, loads, parts, peripherals, rails }: Profile): string[] {
  const all = [...parts, ...converters, ...loads, ...peripherals, ...rails];
  // Two that are called the same are told apart by their ids.
  return all.map((x) => (all.some((y) => y !== x && y.name.toLowerCase() === x.name.toLowerCase()) ? x.id : x.name));
}

export function jobHead(
  { job }: JobContent,
  known: KnownProfile | null,
  newest: number | null,
  waits: RunningWait[],
): JobHead {
  const { intake } = job;
  const hazards: string[] = [];
  if (intake.batterySwollen && intake.batteryIsolated)
    hazards.push('The swollen battery is out. Leave it in its fire-safe place.');
  else if (intake.batterySwollen)
    hazards.push(
      'Swollen battery. Do not charge it or press on it. Move it to a fire-safe place before anything else.',
    );
  if (intake.liquid)
    hazards.push('Liquid damage: wear gloves. A clean-looking board may still be wet under the chips.');
  const facts = [
    intake.liquid ? 'liquid' : 'no liquid',
    intake.dropped ? 'dropped' : '',
    intake.priorRepair ? 'repaired before' : 'not opened before',
    intake.dataWanted ? 'data needed' : '',
  ].filter(Boolean);
  return {
    id: job.id,
    version: job.version,
    number: jobNumber(job.id),
    label: job.label,
    complaint: job.complaint,
    stage: job.stage,
    isOpened: job.opened_at !== null,
    isClosed: job.closed_at !== null,
    grade: job.outcome_grade,
    outcomeCircuit: job.outcome_circuit ? circuitNames[job.outcome_circuit] : null,
    outcomeTarget: job.outcome_target,
    outcomeFix: job.outcome_fix,
    outcomeOpen: job.outcome_open,
    recallAt: job.recall_at ? dayWords(job.recall_at) : null,
    waits,
    hazards,
    facts,
    profile: known
      ? {
          id: known.profile.id,
          name: known.profile.name,
          version: known.version,
          newest: newest !== null && newest > known.version ? newest : null,
        }
      : null,
  };
}
