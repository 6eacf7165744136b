import { deviceTwinOf, narrowedProfile, populationFor, type DeviceTrait, type Profile } from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import { loadContent } from '../jobs/jobs.ts';
import { caseOf, type AssessmentRow, type JobRow } from '../../record/rows.ts';

/** Where a profile of a model begins, and what it is made of. */
export interface ProfileStart {
  profile: Profile;
  model: string;
  /** What the jobs of this model have shown, the surest first. */
  traits: DeviceTrait[];
  /** Ids of those jobs. */
  jobs: number[];
}

/**
 * A profile for the model of a job that has none: the one that stands for its class, fitted to what is stated of the model,
 * with what all jobs of this model have shown of it.
 *
 * @throws {ExpectedError} where there is no such job
 */
export async function beginProfile(q: Queries, jobId: number): Promise<ProfileStart> {
  const content = await loadContent(q, jobId);
  const value = caseOf(content);
  const { model } = content.job;
  const alike = await q<JobRow>('jobs')
    .where({ device_class: content.job.device_class, is_practice: false })
    .whereRaw('lower(trim(model)) = lower(trim(?))', [model])
    .whereNull('deleted_at')
    .orderBy('id')
    .select('id');
  const ids = model.trim() === '' ? [jobId] : alike.map((j) => j.id);
  const latest = await q<AssessmentRow>('assessments')
    .distinctOn('job_id')
    .whereIn('job_id', ids)
    .orderBy([{ column: 'job_id' }, { column: 'id', order: 'desc' }]);
  const { profile } = deviceTwinOf({ ...value.device, profile: null }, value.runs).board;
  const traits = surest(
    latest.flatMap((row) => (row.result.device?.profile === profile.id ? row.result.device.traits : [])),
  );
  const population = populationFor(profile.id);
  const choices = Object.fromEntries(traits.map((t) => [t.alternative, t.option]));
  return {
    profile: population ? narrowedProfile(population, profile, choices) : profile,
    model,
    traits,
    jobs: ids,
  };
}

/** Of several units the one that showed a trait most surely speaks for the model. */
function surest(traits: readonly DeviceTrait[]): DeviceTrait[] {
  const by = new Map<string, DeviceTrait>();
  for (const t of traits) if (t.p > (by.get(t.alternative)?.p ?? 0)) by.set(t.alternative, t);
  return [...by.values()].sort((a, b) => b.p - a.p);
}
