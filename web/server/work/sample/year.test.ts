import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { toldCases } from '../../../testing/taught.ts';
import { loadSampleYear } from './year.ts';

process.env.UMBRAL_ENGINE = 'here';
giveTestDatabase();

const count = 24;
const numberOf = async (table: string): Promise<number> => Number((await db()(table).count({ n: '*' }).first())?.n);

test('a made-up year is loaded once, with calls that were frozen and what was confirmed', async () => {
  expect(await loadSampleYear(new Date('2026-11-20T12:00:00Z'), count)).toBe(count);
  expect(await loadSampleYear(new Date('2026-11-20T12:00:00Z'), count)).toBe(0);
  expect(await numberOf('jobs')).toBe(count);
  const calls = await db()('calls').orderBy('job_id');
  expect(calls).toHaveLength(count);
  for (const call of calls) expect(call.circuits.length).toBeGreaterThan(0);
  const cases = await toldCases();
  expect(cases).toHaveLength(calls.filter((c) => 'scored' in c.counts).length);
  expect(cases.every((c) => c.signatures.length > 0)).toBe(true);
  expect(new Set(calls.map((c) => c.grade)).size).toBeGreaterThan(2);
  const opened = calls.filter((c) => c.minutes_to_cause !== null);
  expect(opened.length).toBeGreaterThan(0);
});
