import { giveTestDatabase } from '../../../testing/database.ts';
import { db } from '../../record/db.ts';
import { jobInput } from '../../record/input.ts';
import * as jobEdits from '../entries/job-edits.ts';
import { addTypedRun } from '../entries/record.ts';
import { addDonor, donorInput, loadDonors, removeDonorPart } from './donors.ts';
import { loadJobParts } from './job-parts.ts';
import { countInput, orderPartInput, partInput, takePartInput } from './parts-input.ts';
import {
  cancelOrder,
  countPart,
  loadParts,
  orderArrived,
  orderList,
  orderPart,
  reservePart,
  returnPart,
  savePart,
  takePart,
} from './parts.ts';
import { runningWaits } from '../entries/waits.ts';

process.env.UMBRAL_ENGINE = 'here';
jest.mock('../../analysis/pool.ts', () => jest.requireActual<object>('../../../testing/in-process-pool.ts'));

giveTestDatabase();
beforeEach(async () => {
  await db()('parts').delete();
  await db()('donors').delete();
});

const newJob = (): Promise<number> =>
  jobEdits.createJob(
    jobInput.validateSync({ label: 'phone', deviceClass: 'phone', complaintKind: 'no-start', intake: {} }),
  );
let made = 0;
const part = (over: object = {}): Promise<number> =>
  savePart(partInput.validateSync({ name: 'coil', number: `N${++made}`, circuit: 'rail.run', minimum: 0, ...over }));
const count = (partId: number, counted: unknown) => countPart(countInput.validateSync({ partId, counted }));
const take = (partId: number, jobId: number, over: object = {}) =>
  takePart(takePartInput.validateSync({ partId, jobId, count: 1, ...over }));
const onShelf = async (partId: number) => (await loadParts(db())).find((p) => p.id === partId);

test('counted, taken, put back: every move is kept, and what is on hand is their sum', async () => {
  const [id, job] = [await part(), await newJob()];
  await count(id, 3);
  expect(await take(id, job)).toEqual([]);
  expect((await onShelf(id))?.onHand).toBe(2);
  await returnPart(id, job);
  await expect(returnPart(id, job)).rejects.toThrow('Nothing of coil was taken for this job');
  await count(id, 1);
  const moves = await db()('part_moves').where({ part_id: id }).orderBy('id');
  expect(moves.map((m) => [m.why, m.delta])).toEqual([
    ['counted', 3],
    ['taken', -1],
    ['returned', 1],
    ['counted', -2],
  ]);
  expect(moves.reduce((sum, m) => sum + m.delta, 0)).toBe((await onShelf(id))?.onHand);
});

test('nothing goes below none, also when two take the last one at once', async () => {
  const [id, one, two] = [await part(), await newJob(), await newJob()];
  await count(id, 1);
  const tries = await Promise.allSettled([take(id, one), take(id, two)]);
  expect(tries.filter((t) => t.status === 'fulfilled')).toHaveLength(1);
  expect(String((tries.find((t) => t.status === 'rejected') as PromiseRejectedResult).reason)).toContain(
    'Only 0 of coil are on the shelf',
  );
  expect((await onShelf(id))?.onHand).toBe(0);
  expect(() => countInput.validateSync({ partId: id, counted: -1 })).toThrow('Counted: cannot be negative');
  expect(() => countInput.validateSync({ partId: id, counted: 1.5 })).toThrow('expected a whole number');
});

test('what is reserved for one job is not taken for another', async () => {
  const [id, mine, other] = [await part(), await newJob(), await newJob()];
  await count(id, 2);
  await reservePart(id, mine, 2);
  await expect(take(id, other)).rejects.toThrow('reserved for other jobs: 2 of 2');
  await expect(reservePart(id, other, 1)).rejects.toThrow('Only 0 of coil are free');
  expect(await take(id, mine)).toEqual([]);
  // What was set aside is used up with it.
  expect(await onShelf(id)).toMatchObject({ onHand: 1, reserved: 0 });
});

test('another suffix is asked about before it is taken; one that stands in is not', async () => {
  const [id, job] = [await part({ suffix: 'B', fits: ['A'] }), await newJob()];
  await count(id, 5);
  expect(await take(id, job, { wanted: 'a' })).toEqual([]);
  expect((await take(id, job, { wanted: 'C' }))[0]).toContain('The old part has suffix C, this one B');
  expect((await take(id, job))[0]).toContain('B. The suffix of the old part');
  expect((await onShelf(id))?.onHand).toBe(4);
  expect(await take(id, job, { wanted: 'C', confirmed: true })).toEqual([]);
  expect((await onShelf(id))?.onHand).toBe(3);
});

test('an order for a job lets it wait until its day; when it is here the job goes on', async () => {
  const [id, job] = [await part({ minimum: 2 }), await newJob()];
  const order = (day: Date) =>
    orderPart(orderPartInput.validateSync({ partId: id, count: 3, dueOn: day.toISOString().slice(0, 10), jobId: job }));
  await expect(order(new Date('2020-01-01'))).rejects.toThrow('this date is in the past.');
  await order(new Date(Date.now() + 86_400_000));
  expect((await runningWaits(db())).filter((w) => w.jobId === job)).toMatchObject([
    { kind: 'part', words: 'waiting for coil' },
  ]);
  const [shelved] = [await onShelf(id)];
  expect(shelved).toMatchObject({ onHand: 0, ordered: 3, reserved: 3, short: 2 });
  await orderArrived(shelved!.orders[0].id);
  expect((await runningWaits(db())).filter((w) => w.jobId === job)).toEqual([]);
  expect(await onShelf(id)).toMatchObject({ onHand: 3, ordered: 0, orders: [] });
  await expect(orderArrived(shelved!.orders[0].id)).rejects.toThrow('no longer exists');
});

test('a number and suffix are on the shelf once; somebody else’s change is not overwritten', async () => {
  const id = await part({ number: 'X-1', suffix: 'A' });
  await expect(part({ number: 'x-1', suffix: 'a' })).rejects.toThrow('x-1 a is already on the shelf.');
  const input = { id, version: 1, name: 'coil two', number: 'X-1', suffix: 'A', circuit: 'rail.run', minimum: 1 };
  await savePart(partInput.validateSync(input));
  await expect(savePart(partInput.validateSync(input))).rejects.toThrow('Someone else saved this');
  expect(() => partInput.validateSync({ ...input, circuit: '' })).toThrow('Circuit: choose one');
});

test('a job is shown what it is likely to need, on the shelf and on donor boards; a board gives a part once', async () => {
  const job = await newJob();
  await addTypedRun(job, 'battery 4V limit 3A: 0 | prompt 0.1 0.25 0.35 hold', undefined);
  const before = await loadJobParts(job);
  expect(before.likely).toEqual([]);
  const { result } = (await db()('assessments').where({ job_id: job }).orderBy('id', 'desc').first())!;
  const leader = result.circuits.find((c) => c.id !== 'unmodelled')!;
  const id = await part({ circuit: leader.id });
  await part({ circuit: leader.id, deviceClass: 'laptop' });
  await addDonor(
    donorInput.validateSync({
      label: 'board with a crack',
      deviceClass: 'phone',
      parts: [{ what: 'chip', number: 'C1', suffix: '', circuit: leader.id }],
    }),
  );
  const { likely, donors, others } = await loadJobParts(job);
  expect(likely.map((l) => l.part.id)).toEqual([id]);
  expect(likely[0].p).toBeCloseTo(leader.p, 6);
  expect(others).toHaveLength(1);
  expect(donors).toMatchObject([{ what: 'chip', donor: 'board with a crack' }]);
  await removeDonorPart(donors[0].id, job);
  await expect(removeDonorPart(donors[0].id, job)).rejects.toThrow('already taken off its board.');
  expect((await loadJobParts(job)).donors).toEqual([]);
  expect((await loadDonors(db()))[0].parts[0]).toMatchObject({ isTaken: true, takenFor: job });
});

test('an order that will not come frees what was set aside, ends the wait, and is ordered again', async () => {
  const [id, job] = [await part({ minimum: 2, supplier: 'Tern & Sedge Parts', cost: 3.5 }), await newJob()];
  const dueOn = new Date(Date.now() + 9 * 86_400_000).toISOString().slice(0, 10);
  await orderPart(orderPartInput.validateSync({ partId: id, count: 2, dueOn, jobId: job }));
  const [made] = (await onShelf(id))!.orders;
  expect((await runningWaits(db())).some((w) => w.jobId === job)).toBe(true);
  await cancelOrder(made.id);
  expect(await onShelf(id)).toMatchObject({ orders: [], reserved: 0, short: 2 });
  expect((await runningWaits(db())).some((w) => w.jobId === job)).toBe(false);
  await expect(cancelOrder(made.id)).rejects.toThrow('This order');
  await expect(orderArrived(made.id)).rejects.toThrow('This order');
  expect(orderList(await loadParts(db()))).toMatchObject([
    { supplier: 'Tern & Sedge Parts', count: 2, price: 3.5, total: 7 },
  ]);
});
