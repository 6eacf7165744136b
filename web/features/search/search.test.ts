import { giveTestDatabase } from '@/testing/database';
import { lookUpNotebook } from '@/features/notebook/queries';
import { loadAtlas, atlasAsked } from '@/features/atlas/queries';
import { db } from '@/server/record/db';
import * as jobEdits from '@/server/work/entries/job-edits';
import { jobInput, outcomeInput } from '@/server/record/input';
import { addTypedRun } from '@/server/work/entries/record';
import { keepNote, noteInput } from '@/server/work/library/notebook';
import { loadSampleShelf } from '@/server/work/sample/shelf';
import { searchAll, trigramSimilarity } from './queries';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('@/server/analysis/pool', () => jest.requireActual<object>('../../testing/in-process-pool.ts'));
giveTestDatabase();

const stall = 'battery 4V limit 2A: 0 | prompt 0.1 0.25 0.19 hold';

async function newJob(model: string, label: string): Promise<number> {
  const jobId = await jobEdits.createJob(jobInput.validateSync({ label, model, deviceClass: 'phone', intake: {} }));
  await addTypedRun(jobId, stall, undefined);
  return jobId;
}
async function closedJob(model: string, circuit: string, target: string): Promise<number> {
  const jobId = await newJob(model, `closed ${target}`);
  const { version } = (await db()('jobs').where({ id: jobId }).first('version'))!;
  await jobEdits.closeJob(
    outcomeInput.validateSync({ jobId, version, grade: 'measured', circuit, target, fix: 'replaced' }),
  );
  return jobId;
}
const found = async (text: string): Promise<Record<string, string[]>> =>
  Object.fromEntries((await searchAll(text)).groups.map((g) => [g.name, g.hits.map((h) => h.name)]));
const note = (over: object) =>
  keepNote(
    noteInput.validateSync({
      model: 'Moorcall 4',
      deviceClass: 'phone',
      feed: 'battery',
      amps: '0.19 A',
      volts: '4 V',
      circuit: 'core.storage',
      hits: '2',
      of: '3',
      ...over,
    }),
  );
const atlas = async (text: string): Promise<(number | null)[]> =>
  (await loadAtlas(atlasAsked.validateSync({ text, chosen: {} }))).cases.map((c) => c.job);

let [open, closed] = [0, 0];
beforeAll(async () => {
  open = await newJob('Moorcall 4', 'reading room phone');
  closed = await closedJob('Fenwick 2', 'pmic', 'second coil');
  await loadSampleShelf(db());
  await note({ setup: 'after the press' });
  await note({ setup: 'before the press', circuit: 'rail.main' });
  await note({ deviceClass: 'laptop', model: 'Hill 9' });
});

test('a word finds jobs, lines and cases; a misspelt one is taken for the nearest that something is called', async () => {
  const said = await found('moorcall');
  expect(said.Jobs).toEqual([`${String(open).padStart(4, '0')} reading room phone`]);
  expect(said.Notebook).toHaveLength(2);
  expect(await searchAll('morcal')).toMatchObject({ spelt: [{ word: 'morcal', as: 'moorcall' }] });
  expect((await found('morcal')).Jobs).toEqual(said.Jobs);
  expect(await found('zzyzx')).toEqual({});
});

test('a level finds what stood there, with its unit or a decimal comma, alone or with words', async () => {
  expect((await found('190 mA')).Jobs).toHaveLength(2);
  expect((await found('0,19 fenwick')).Jobs).toEqual([expect.stringContaining('closed second coil')]);
  expect((await found('0.19 A moorcall')).Notebook).toHaveLength(2);
  expect(Object.keys(await found('1.7 A moorcall'))).toEqual(['Notebook, closest levels', 'Models']);
  expect(Object.keys(await found('1.7 A fenwick'))).toEqual(['Notebook, closest levels']);
});

test('patterns, circuits, parts, job numbers and people by what they are called', async () => {
  expect((await found('hang'))['Patterns and circuits']).toContain('Starts to boot, then hangs');
  expect((await found('screen')).Parts).toEqual(['handheld screen HS-7']);
  expect((await found('second coil'))['Confirmed cases']).toEqual(['Power-management IC: second coil']);
  expect((await found(String(closed))).Jobs).toContainEqual(expect.stringContaining('closed second coil'));
  await db()('people').insert({ name: 'Ada Quill', role: 'technician' });
  expect((await found('quill')).People).toEqual(['Ada Quill']);
});

test('the atlas finds what people call a pattern, and a level', async () => {
  expect(await atlas('stall')).toEqual([closed]);
  expect(await atlas('0.19 A')).toEqual([closed]);
  expect(await atlas('fenwick 190 mA')).toEqual([closed]);
  expect(await atlas('2 A')).toEqual([]);
});

test('a typed reading meets lines of its own phase, feed and kind of device only', async () => {
  const met = async (line: string, kind: 'phone' | 'laptop' | null) =>
    (await lookUpNotebook(line, kind)).map((l) => l.causes[0].circuit);
  expect(await met(stall, 'phone')).not.toContain('Main system rail');
  expect(await met(stall, 'phone')).toContain('Storage');
  expect(await met('battery 4V: 0.19', 'phone')).toEqual(['Main system rail']);
  expect((await lookUpNotebook(stall, 'laptop')).map((l) => l.model)).toEqual(['Hill 9']);
});

test('worked example: words that share most of their trigrams are alike', () => {
  // Six each, of which both have "  m", " mo" and "mor".
  expect(trigramSimilarity('moral', 'morel')).toBeCloseTo(3 / 9, 9);
  expect(trigramSimilarity('moorcall', 'moorcall')).toBe(1);
  expect(trigramSimilarity('morcall', 'moorcall')).toBeGreaterThan(0.5);
  expect(trigramSimilarity('lamp', 'moorcall')).toBe(0);
});
