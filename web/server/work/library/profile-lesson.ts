import {
  bareCase,
  isHealthy,
  learnedProfile,
  profileText,
  seenRun,
  type HealthyRun,
  type LearnedProfile,
} from '@umbral/core';
import type { Queries } from '../../record/db.ts';
import { ExpectedError } from '../../record/errors.ts';
import { findProfile, saveProfile } from '../shop/profiles.ts';
import { deviceOfRow, runOf, type JobRow, type RunRow } from '../../record/rows.ts';

/** Runs that are looked at, the latest of them. */
const maxRuns = 60;

/** What healthy and repaired runs of a model say of the latest version of its profile; null where they say nothing. */
export async function profileLesson(
  q: Queries,
  profileId: string,
): Promise<(LearnedProfile & { basedOn: number }) | null> {
  const known = await findProfile(q, profileId);
  if (!known || known.profile.generic) return null;
  const found = await healthyRuns(q, profileId);
  if (!found) return null;
  const learned = learnedProfile(known.profile, found.device, found.runs);
  return learned && { ...learned, basedOn: known.version };
}

/** Runs that were kept as those of a healthy unit, and starts after a repair that a confirmed job was closed with. */
async function healthyRuns(q: Queries, profileId: string) {
  const rows = (await q('runs as r')
    .join('jobs as j', 'j.id', 'r.job_id')
    .leftJoin('reference_runs as f', 'f.run_id', 'r.id')
    .leftJoin('library_cases as c', 'c.job_id', 'j.id')
    .whereNull('r.deleted_at')
    .where('j.is_practice', false)
    .whereNull('j.deleted_at')
    .where((w) =>
      w
        .where('f.profile_id', profileId)
        .orWhere((repaired) =>
          repaired.where('j.profile', profileId).whereNotNull('c.id').whereNotNull('r.after_action'),
        ),
    )
    .orderBy('r.id', 'desc')
    .limit(maxRuns)
    .select('r.*', 'f.id as reference')) as (RunRow & { reference: number | null })[];
  if (rows.length === 0) return null;
  const job = (await q('jobs').where({ id: rows[0].job_id }).first()) as JobRow;
  const device = deviceOfRow(job);
  const runs = rows.flatMap((row): HealthyRun[] => {
    const run = runOf(row);
    const one = { run, shape: row.shape };
    const looksWell = isHealthy(seenRun({ ...bareCase(device, [], 'healthy'), device }, run, row.shape));
    return row.reference !== null || looksWell ? [one] : [];
  });
  return { device, runs };
}

/**
 * Keeps what the runs say as a new version of the profile; earlier versions and the jobs that use them stay as they are.
 *
 * @throws {ExpectedError} where the runs say nothing (any more)
 */
export async function saveProfileLesson(q: Queries, profileId: string, basedOn: number): Promise<number> {
  const learned = await profileLesson(q, profileId);
  if (!learned)
    throw new ExpectedError('input', 'The runs of healthy devices agree with the profile. No change needed.');
  const note = sayLesson(learned);
  const saved = await saveProfile(q, profileText(learned.profile), {
    fileName: `${profileId}.json`,
    note,
    basedOn,
    mustBe: profileId,
  });
  return saved.version;
}

/** What is off, in a sentence. */
export function sayLesson({ levels, times }: Pick<LearnedProfile, 'levels' | 'times'>): string {
  const percent = (factor: number): string => `${factor > 1 ? '+' : '−'}${Math.round(100 * Math.abs(factor - 1))} %`;
  const parts = [
    levels ? `levels ${percent(levels.factor)} (${levels.runs} runs)` : '',
    times ? `times ${percent(times.factor)} (${times.runs} runs)` : '',
  ];
  return `Learned from healthy runs: ${parts.filter((x) => x !== '').join(', ')}`;
}
