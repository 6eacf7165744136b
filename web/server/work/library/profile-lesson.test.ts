import { giveTestDatabase } from '../../../testing/database.ts';
import { db, transaction } from '../../record/db.ts';
import * as jobEdits from '../entries/job-edits.ts';
import { jobInput } from '../../record/input.ts';
import { findProfile } from '../shop/profiles.ts';
import { addTypedRun } from '../entries/record.ts';
import { setReference } from '../jobs/references.ts';
import { saveProfileLesson, profileLesson, sayLesson } from './profile-lesson.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));
giveTestDatabase();

const profileId = 'tallgate-moorcall-2';

async function healthyUnit(line: string): Promise<number> {
  const input = jobInput.validateSync({
    label: 'good',
    model: 'Tallgate Moorcall 2',
    deviceClass: 'phone',
    intake: {},
  });
  const jobId = await jobEdits.createJob(input);
  await addTypedRun(jobId, line, undefined);
  const run = await db()('runs').where({ job_id: jobId }).first('id');
  await setReference(jobId, run!.id, true);
  return jobId;
}

test('healthy runs that draw more than the profile says propose a new version, which nobody is moved to', async () => {
  expect(await profileLesson(db(), profileId)).toBeNull();
  const jobs = [];
  for (const peak of [1.9, 2, 2.1, 2.2])
    jobs.push(await healthyUnit(`battery 3.9V limit 5A: 0 | prompt 0.4 0.9 ${peak} 1.5 hold`));
  const lesson = (await profileLesson(db(), profileId))!;
  expect(lesson.basedOn).toBe(0);
  expect(lesson.levels?.runs).toBe(4);
  expect(lesson.levels?.factor).toBeGreaterThan(1.2);
  expect(sayLesson(lesson)).toMatch(/^Learned from healthy runs: levels \+\d+ % \(4 runs\)/);
  expect(await transaction((q) => saveProfileLesson(q, profileId, 0))).toBe(1);
  const [before, after] = [await findProfile(db(), profileId, 0), await findProfile(db(), profileId)];
  const amps = (p: typeof before): number => Math.max(...p!.profile.loads.flatMap((l) => Object.values(l.amps)));
  expect(amps(after) / amps(before)).toBeCloseTo(lesson.levels!.factor, 1);
  expect((await db()('jobs').where({ id: jobs[0] }).first('profile_version'))!.profile_version).toBe(0);
  // Somebody who looks at the old version is told, not followed.
  await expect(transaction((q) => saveProfileLesson(q, profileId, 0))).rejects.toThrow();
});
