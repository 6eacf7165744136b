import { giveTestDatabase } from '../../../testing/database.ts';
import { engineAnswers } from '../../analysis/engine-answers.ts';
import { followUp } from './reassess.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import * as jobEdits from './job-edits.ts';
import { takeBackEntry } from './corrections.ts';
import * as entries from './job-entries.ts';
import { latestAssessment, loadContent } from '../jobs/jobs.ts';
import { saveReading } from '../opened/measure.ts';
import { measureInput, type MeasureInput } from '../opened/measure-input.ts';

process.env.UMBRAL_ENGINE = 'here';

giveTestDatabase();

const newJob = (): Promise<number> =>
  jobEdits.createJob(jobInput.validateSync({ label: 'unit', deviceClass: 'phone', intake: {} }));
const seen = (jobId: number, check: string, outcome: string): Promise<number> =>
  entries.addCheck({ jobId, check, outcome, note: '', after: undefined });
const changesOf = async (jobId: number): Promise<[number, number]> => {
  const { changes, changes_judged: judged } = (await loadContent(db(), jobId)).job;
  return [changes, judged];
};
const { assess } = engineAnswers;

afterEach(() => jest.restoreAllMocks());

test('nothing is held while the engine thinks, and what comes in meanwhile is in the verdict', async () => {
  const jobId = await newJob();
  const asked: number[] = [];
  jest.spyOn(engineAnswers, 'assess').mockImplementation((async (...args: Parameters<typeof assess>) => {
    asked.push(args[0].value.checks.length);
    // Somebody else, on another connection: it would wait for ever for a row that is held.
    if (asked.length === 1) {
      await db()('checks').insert({ job_id: jobId, check_id: 'pd-contract', outcome: '5v-stuck', note: '' });
      await db()('jobs').where({ id: jobId }).increment('changes');
    }
    return assess(...args);
  }) as unknown as typeof assess);
  await seen(jobId, 'main-rail-resistance', 'normal');
  expect(asked).toEqual([1, 2]);
  expect(await changesOf(jobId)).toEqual([2, 2]);
  expect((await latestAssessment(db(), jobId))?.inputs).toMatchObject({ value: { checks: [{}, {}] } });
});

test('where the engine fails what was entered is kept, and whoever opens the job later has the verdict made', async () => {
  const jobId = await newJob();
  const fails = jest.spyOn(engineAnswers, 'assess').mockImplementation(() => {
    throw new Error('the thread of the engine ended');
  });
  await seen(jobId, 'main-rail-resistance', 'short');
  expect(await changesOf(jobId)).toEqual([1, 0]);
  expect(await latestAssessment(db(), jobId)).toBeNull();
  fails.mockRestore();
  // Not while whoever entered it may still be waiting for it.
  await followUp(jobId);
  expect(await changesOf(jobId)).toEqual([1, 0]);
  await db()('jobs')
    .where({ id: jobId })
    .update({ updated_at: new Date(Date.now() - 60_000) });
  await followUp(jobId);
  while ((await db()('audit').where({ job_id: jobId, what: 'verdict made later' })).length === 0);
  expect(await changesOf(jobId)).toEqual([1, 1]);
  expect((await latestAssessment(db(), jobId))?.result.circuits[0].id).toBe('rail.main');
});

test('a change that is refused asks nobody', async () => {
  const jobId = await newJob();
  const asks = jest.spyOn(engineAnswers, 'assess');
  await expect(takeBackEntry(jobId, 'checks', 999_999)).rejects.toThrow('This check no longer exists');
  expect(asks).not.toHaveBeenCalled();
  expect(await changesOf(jobId)).toEqual([0, 0]);
});

test('many at once are all in the last verdict', async () => {
  const jobId = await newJob();
  const outcomes = ['normal', 'short', 'normal', 'short', 'normal', 'short'];
  await Promise.all(outcomes.map((outcome) => seen(jobId, 'main-rail-resistance', outcome)));
  expect(await changesOf(jobId)).toEqual([6, 6]);
  expect((await latestAssessment(db(), jobId))?.inputs).toMatchObject({ value: { checks: outcomes.map(() => ({})) } });
});

test('a reading asks the database few questions, and reads the job once before it and once for the verdict', async () => {
  const jobId = await newJob();
  const asked: string[] = [];
  const note = ({ sql }: { sql: string }): void => void asked.push(sql);
  db().on('query', note);
  await saveReading(measureInput.cast({ jobId, where: 'main', text: '3.8', mode: 'voltage' }) as MeasureInput);
  db().off('query', note);
  expect(asked.filter((sql) => /FROM jobs WHERE id = \d/.test(sql))).toHaveLength(2);
  expect(asked.length).toBeLessThanOrEqual(21);
});
