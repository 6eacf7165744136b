import { giveTestDatabase } from '../../../testing/database.ts';
import { db, json } from '../../record/db.ts';
import { firstSteps } from './first-steps.ts';

giveTestDatabase();

const job = async (over: object): Promise<number> => {
  const [{ id }] = (await db()('jobs')
    .insert({ label: 'unit', device_class: 'phone', intake: '{}', ...over } as never)
    .returning('id')) as { id: number }[];
  return id;
};
const run = async (job_id: number): Promise<number> => {
  const columns = { run_key: 'r1', feed: 'battery', quantity: 'current', file_name: 'a.csv', engine: 'x' };
  const empty = { instrument: '{}', setup: '{}', markers: '[]', summary: '{}', shape: '{}', preview: '{}' };
  const [{ id }] = (await db()('runs')
    .insert({ job_id, ...columns, ...empty } as never)
    .returning('id')) as { id: number }[];
  return id;
};

test('the first steps are done by what the shop did itself, in any order', async () => {
  const none = { measures: false, hasReference: false, hasJob: false };
  expect(await firstSteps(db())).toEqual(none);
  const sample = await job({ is_sample: true });
  await db()('reference_runs').insert({ run_id: await run(sample), profile_id: 'p' } as never);
  await db()('instruments').insert({ key: 'made-up', spec: json({ key: 'made-up', simulated: true }) } as never);
  expect(await firstSteps(db())).toEqual(none);
  const own = await job({});
  expect(await firstSteps(db())).toEqual({ ...none, hasJob: true });
  const typed = await run(own);
  expect(await firstSteps(db())).toEqual({ ...none, hasJob: true, measures: true });
  await db()('reference_runs').insert({ run_id: typed, profile_id: 'p' } as never);
  expect(await firstSteps(db())).toEqual({ measures: true, hasReference: true, hasJob: true });
});

test('an instrument of its own is what measures', async () => {
  await db()('runs').delete();
  await db()('instruments').insert({ key: 'own', spec: json({ key: 'own', simulated: false }) } as never);
  expect((await firstSteps(db())).measures).toBe(true);
});
