import { shippedProfiles } from '@umbral/core';
import { giveTestDatabase } from '../../testing/database.ts';
import { takeBoard } from '../../server/work/boards/board-file.ts';
import type { BoardFile } from '../../server/analysis/board-format.ts';
import { setRevision } from '../../server/work/boards/boards.ts';
import { createJob } from '../../server/work/entries/job-edits.ts';
import { db, transaction } from '../../server/record/db.ts';
import { jobInput } from '../../server/record/input.ts';
import { loadBoard } from './view.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../server/analysis/pool.ts', () => jest.requireActual<object>('../../testing/in-process-pool.ts'));
giveTestDatabase();

const profile = shippedProfiles.find((p) => !p.generic)!;
const converter = profile.converters.find((c) => c.to.length > 0)!;
const [made] = converter.to;
const point = (net: string, more: object = {}) => ({
  ...{ x: 0.5, y: 0.3, kind: 'coil' as const, name: '', net, circuit: null },
  ...more,
});
const map = (model: string, revision: string, points: object[]): BoardFile =>
  ({
    format: 'umbral-board/1',
    model,
    sides: [{ revision, side: 'front', part: '', height: 0.6, points, pictures: [] }],
    good: [],
  }) as unknown as BoardFile;
const keep = (file: BoardFile): Promise<unknown> => transaction((q) => takeBoard(q, file));
const job = (model: string): Promise<number> =>
  createJob(jobInput.validateSync({ label: 'phone', deviceClass: 'phone', model, intake: {} }));

test('points are named by their rail, stand for the suspects that hang on it, and say where causes were', async () => {
  await keep(map(profile.id, 'A', [point(made), point(made, { kind: 'capacitor', x: 0.6 }), point('pad of ours')]));
  const rail = profile.rails.find((r) => r.id === made)!;
  await db()('jobs')
    .where({ id: await job('earlier') })
    .update({
      ...{ profile: profile.id, outcome_grade: 'measured', outcome_circuit: rail.circuit, closed_at: new Date() },
      outcome_target: `capacitor of ${rail.name}`,
    });
  const of = { model: profile.id, modelName: profile.name, profile, jobId: await job('now') };
  const { sides, nets } = await loadBoard(db(), of, [
    { id: converter.id, circuit: converter.circuit, p: 0.4 },
    { id: 'something else', circuit: 'display', p: 0.6 },
  ]);
  expect(nets).toContainEqual({ id: made, name: rail.name });
  expect(sides[0].name).toBe('front');
  expect(sides[0].points.map((p) => [p.netName, p.suspicion, p.causes.length])).toEqual([
    [rail.name, 0.4, 0],
    [rail.name, 0.4, 1],
    ['pad of ours', 0, 0],
  ]);
  expect(sides[0].points[1].causes[0]).toMatch(/^here once: capacitor of/);
});

test('without a profile a point stands for the suspects of its circuit', async () => {
  await keep(map('wren of the shelf', '', [point('run rail', { circuit: 'rail.run' }), point('other')]));
  const of = { model: 'wren of the shelf', modelName: 'Wren', profile: null, jobId: null };
  const { sides } = await loadBoard(db(), of, [{ id: 'rail.run', circuit: 'rail.run', p: 0.7 }]);
  expect(sides[0].points.map((p) => p.suspicion)).toEqual([0.7, 0]);
});

test('of several revisions a job is asked which one it has; the answer stands', async () => {
  for (const revision of ['A', 'B']) await keep(map('two boards', revision, [point(`net of ${revision}`)]));
  const jobId = await job('two boards');
  const of = { model: 'two boards', modelName: 'two boards', profile: null, jobId };
  const asked = await loadBoard(db(), of);
  expect(asked).toMatchObject({ isRevisionOpen: true, revisions: ['A', 'B'] });
  await setRevision(jobId, 'A');
  const said = await loadBoard(db(), of);
  expect(said).toMatchObject({ isRevisionOpen: false, revision: 'A' });
  expect(said.sides.flatMap((s) => s.points.map((p) => p.net))).toEqual(['net of A']);
  expect((await loadBoard(db(), { ...of, jobId: null })).isRevisionOpen).toBe(false);
});

test('a job without a model has no map', async () => {
  const of = { model: '', modelName: '', profile: null, jobId: await job('') };
  expect((await loadBoard(db(), of)).sides).toEqual([]);
});
