'use server';

import { action, question } from '@/features/action';
import { randomUUID } from 'node:crypto';
import type { Profile } from '@umbral/core';
import * as yup from 'yup';
import { readProfileText } from '@/server/analysis/profile-text';
import { db, transaction } from '@/server/record/db';
import { id, version } from '@/server/record/input';
import { findProfile, saveProfile } from '@/server/work/shop/profiles';
import { setReference } from '@/server/work/jobs/references';
import { saveProfileLesson } from '@/server/work/library/profile-lesson';
import { chooseProfile } from '@/server/work/entries/job-edits';
import { differences } from './differences';
import { readQuestion, startVirtually } from './virtual-start';

/** What stands in the editor, looked at without keeping it. */
export interface Checked {
  findings: { place: string; message: string; line: number | null }[];
  /** What it changes against the version that was opened, in words. */
  changes: string[];
  /** A healthy start with it, and with the version that was opened. */
  silhouettes: { now: string; before: string } | null;
}

const maxText = 500_000;
const textInput = yup
  .string()
  .max(maxText, 'The profile is longer than 500,000 characters')
  .required('The profile is empty; expected JSON or YAML');
const checkInput = yup.object({ text: textInput, profileId: yup.string().max(80).nullable().default(null) });

export const checkProfile = question('technician', checkInput, async ({ text, profileId }) => {
  const { profile, findings } = await readProfileText(text, '');
  if (!profile) return { findings, changes: [], silhouettes: null };
  const before = profileId === null ? null : ((await findProfile(db(), profileId))?.profile ?? null);
  const drawn = await silhouetteOf(profile);
  return {
    findings: [],
    changes: before ? differences(before, profile) : [],
    silhouettes: drawn === null ? null : { now: drawn, before: before ? ((await silhouetteOf(before)) ?? '') : '' },
  };
});

/** Of a profile that nobody has kept yet: it has no version that the engine could know it by. */
async function silhouetteOf(profile: Profile): Promise<string> {
  return (await startVirtually({ profile, version: randomUUID() }, readQuestion(profile, {}))).silhouette;
}

const saveInput = yup.object({
  text: textInput,
  profileId: yup.string().max(80).nullable().default(null),
  basedOn: yup.number().integer().min(0).nullable().default(null),
  note: yup.string().trim().max(500, 'What changed: at most 500 characters').default(''),
});

export const keepProfile = action('technician', saveInput, async ({ text, profileId, basedOn, note }) => {
  const options = { fileName: '', note, basedOn, mustBe: profileId ?? undefined };
  const kept = await transaction((q) => saveProfile(q, text, options));
  return { id: kept.profile.id, version: kept.version };
});

const useInput = yup.object({ jobId: id, version, profileId: yup.string().max(80).nullable().default(null) });

/** Lets a job use the newest version of a profile. */
export const takeNewestProfile = action('technician', useInput, ({ jobId, version, profileId }) =>
  chooseProfile(jobId, version, profileId),
);

const referenceInput = yup.object({ jobId: id, runId: id, isReference: yup.boolean().required() });

export const markReference = action('technician', referenceInput, ({ jobId, runId, isReference }) =>
  setReference(jobId, runId, isReference),
);

const learnedInput = yup.object({ profileId: yup.string().max(80).required(), basedOn: version });

/** Keeps what healthy runs say of a profile as a new version of it. */
export const keepLearnedProfile = action('technician', learnedInput, ({ profileId, basedOn }) =>
  transaction((q) => saveProfileLesson(q, profileId, basedOn)),
);
