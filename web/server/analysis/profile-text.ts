import { Worker } from 'node:worker_threads';
import { linesOfPlaces, readProfile, type Finding, type Profile } from '@umbral/core';
import { threadFor } from './thread.ts';

/** A profile that came as text: itself, or what is wrong with it and on which line. */
interface ReadProfile {
  profile: Profile | null;
  findings: (Finding & { line: number | null })[];
}

/** What the thread for profiles answers. */
export const profileAnswers = {
  read: (text: string, fileName: string): ReadProfile => {
    const { profile, findings } = readProfile(new TextEncoder().encode(text), fileName);
    const lines = linesOfPlaces(
      text,
      findings.map((f) => f.place),
    );
    return { profile, findings: findings.map((f, k) => ({ ...f, line: lines[k] })) };
  },
};

const onThread = threadFor(
  () => new Worker(new URL('./profile.worker.ts', import.meta.url)),
  profileAnswers,
  'Reading this profile',
);

/**
 * Reads a profile on a thread of its own: what somebody pastes into the editor holds up nobody else.
 *
 * @param fileName for the messages
 * @throws {ExpectedError} for one that takes too long
 */
export const readProfileText = (text: string, fileName: string): Promise<ReadProfile> =>
  onThread((answers) => answers.read(text, fileName));
