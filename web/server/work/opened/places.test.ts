import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput, placeNameInput } from '../../record/input.ts';
import { createJob } from '../entries/job-edits.ts';
import { namePlace } from '../entries/job-entries.ts';
import { latestAssessment, loadContent } from '../jobs/jobs.ts';
import { editReading, saveReading } from './measure.ts';
import { measureInput, readingEditInput } from './measure-input.ts';
import { addTypedRun } from '../entries/record.ts';
import { caseOf } from '../../record/rows.ts';
import { circuitNames, sayEvidence, type CircuitId } from '@umbral/core';
import type { Touched } from '../../record/rows.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();

const where = 'speck beside the vibration motor';

/** A phone that draws unasked, with a short at a place that nobody knows the circuit of. */
async function nameless(text = 'r 3.3'): Promise<number> {
  const jobId = await createJob(jobInput.validateSync({ label: 'branch phone', deviceClass: 'phone', intake: {} }));
  await addTypedRun(jobId, 'battery 4.0V limit 2A: 0.9 hold', null);
  await saveReading(
    measureInput.validateSync({ jobId, where, text, mode: 'voltage', phase: null, redProbe: 'ground' }),
  );
  return jobId;
}

const name = (jobId: number, circuit: CircuitId): Promise<void> =>
  namePlace(placeNameInput.validateSync({ jobId, where, circuit }));

const likely = async (jobId: number, id: CircuitId): Promise<number> =>
  (await latestAssessment(db(), jobId))?.result.circuits.find((c) => c.id === id)?.p ?? 0;

test('a reading without a circuit counts, and the screen is given guesses to pick from', async () => {
  const jobId = await nameless();
  const { result } = (await latestAssessment(db(), jobId))!;
  expect(result.unnamed).toMatchObject([{ where }]);
  const guesses = result.unnamed![0].guesses.map((g) => g.p);
  expect(guesses.length).toBeGreaterThan(1);
  expect([...guesses].sort((a, b) => b - a)).toEqual(guesses);
  expect(result.circuits[0].evidence.map(sayEvidence).join()).toContain(where);
});

test('a place named later counts for what was entered before; named twice, the later name holds', async () => {
  const jobId = await nameless();
  const before = await likely(jobId, 'rail.boost');
  await name(jobId, 'rail.boost');
  const named = await likely(jobId, 'rail.boost');
  expect(named).toBeGreaterThan(Math.max(before, 0.6));
  const { result } = (await latestAssessment(db(), jobId))!;
  expect(result.unnamed ?? []).toEqual([]);
  await name(jobId, 'rail.always-on');
  expect(await likely(jobId, 'rail.always-on')).toBeGreaterThan(0.6);
  expect(await likely(jobId, 'rail.boost')).toBeLessThan(named);
});

test('the entry itself stays as it was entered, and every name stands in the audit trail', async () => {
  const jobId = await nameless();
  await name(jobId, 'rail.boost');
  expect(await db()('readings').where({ job_id: jobId }).first()).toMatchObject({ where, circuit: null });
  expect(await db()('audit').where({ job_id: jobId, what: `${where}: ${circuitNames['rail.boost']}` })).toHaveLength(1);
  expect(() => placeNameInput.validateSync({ jobId, where, circuit: 'a rail of nobody' })).toThrow(
    /Circuit: choose one/,
  );
  await expect(namePlace(placeNameInput.validateSync({ jobId: 99_999, where, circuit: 'pmic' }))).rejects.toThrow(
    /job/i,
  );
});

describe('a reading is corrected', () => {
  const edit = async (jobId: number, text: string, confirmed = false): ReturnType<typeof editReading> => {
    const row = (await db()('readings').where({ job_id: jobId }).first())!;
    return editReading(readingEditInput.validateSync({ jobId, readingId: row.id, where: row.where, text, confirmed }));
  };
  const first = async (jobId: number): Promise<object> => caseOf(await loadContent(db(), jobId)).readings[0];

  test('in its value, in words and as a bound, and the call follows', async () => {
    const jobId = await nameless();
    const short = await likely(jobId, 'rail.main');
    expect(await edit(jobId, 'no beep')).toEqual({ kept: true, asks: [] });
    expect(await first(jobId)).toMatchObject({ value: null, says: 'no-beep' });
    expect(await edit(jobId, '>1k')).toEqual({ kept: true, asks: [] });
    expect(await first(jobId)).toMatchObject({ value: 1000, bound: 'above', says: null });
    expect(await likely(jobId, 'rail.main')).toBeLessThan(short);
    const steps = await db()('corrections').where({ job_id: jobId }).whereLike('what', 'corrected: %').orderBy('id');
    expect(steps.map((s) => (s.touched as Touched[])[0].before?.value)).toEqual([3.3, null]);
  });

  test('nonsense is refused by name and changes nothing; neither is another job reached', async () => {
    const jobId = await nameless();
    await expect(edit(jobId, 'about three')).rejects.toThrow(/^Value: /);
    expect(await first(jobId)).toMatchObject({ value: 3.3 });
    const other = await nameless();
    const row = (await db()('readings').where({ job_id: jobId }).first())!;
    const foreign = readingEditInput.validateSync({ jobId: other, readingId: row.id, where, text: '5' });
    await expect(editReading(foreign)).rejects.toThrow(/This reading/);
  });
});
