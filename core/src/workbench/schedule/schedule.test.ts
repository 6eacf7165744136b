import fc from 'fast-check';
import { equipmentIds, workPlaceIds, type EquipmentId } from '../../catalogue/index.ts';
import { dispatchTasks, workUntil } from './dispatch.ts';
import { byPrice, minCost } from './least-cost.ts';
import { costOf, undoableTasks, type BenchDay, type Stretch, type Task, type Technician } from './problem.ts';
import { orderWork } from './order-work.ts';

const one: Record<EquipmentId, number> = {
  supply: 1,
  meter: 1,
  camera: 1,
  microscope: 1,
  'hot-air': 1,
  preheater: 1,
  bath: 1,
};
const always: Technician = { id: 1, maxDepth: 5, spans: [[0, Infinity]] };
const day = (over: Partial<BenchDay> = {}): BenchDay => ({
  technicians: [always],
  equipment: one,
  changeMinutes: 0,
  delayShare: 1,
  lateOnce: 20,
  lateDaily: 4,
  marginMinutes: 60,
  marginShare: 0,
  ...over,
});
const work = (minutes: number, over: Partial<Stretch> = {}): Stretch => ({
  minutes,
  place: 'outside',
  depth: 0,
  uses: [],
  wait: 0,
  waitUses: [],
  ...over,
});
const task = (id: number, stretches: Stretch[], over: Partial<Task> = {}): Task => ({
  id,
  release: 0,
  stretches,
  value: 60,
  due: null,
  heldBy: null,
  rank: null,
  ...over,
});
const startsOf = (plan: { placed: readonly { task: number; start: number }[] }): [number, number][] =>
  plan.placed.map((p) => [p.task, p.start]);

describe('working by a list', () => {
  test('worked example: the bath runs while something else is done', () => {
    const tasks = [task(1, [work(10, { wait: 60, waitUses: ['bath'] }), work(10)]), task(2, [work(30)])];
    const plan = dispatchTasks(tasks, day(), [0, 1]);
    expect(startsOf(plan)).toEqual([
      [1, 0],
      [2, 10],
      [1, 70],
    ]);
    expect(plan.done).toEqual([80, 40]);
  });
  test('two cannot be in one bath; another place takes a while to lay out', () => {
    const bath = [work(10, { wait: 60, waitUses: ['bath'] })];
    expect(startsOf(dispatchTasks([task(1, bath), task(2, bath)], day(), [0, 1]))).toEqual([
      [1, 0],
      [2, 70],
    ]);
    expect(startsOf(dispatchTasks([task(1, bath)], day({ occupied: [{ id: 'bath', until: 25 }] }), [0]))).toEqual([
      [1, 25],
    ]);
    const moved = [task(1, [work(10)]), task(2, [work(10, { place: 'microscope' })])];
    expect(dispatchTasks(moved, day({ changeMinutes: 5 }), [0, 1]).done).toEqual([10, 25]);
  });
  test('work rests over lunch and over night, and what is too deep waits for who can', () => {
    expect(
      workUntil(
        [
          [0, 30],
          [60, 90],
        ],
        20,
        15,
      ),
    ).toBe(65);
    const half: Technician = { id: 2, maxDepth: 1, spans: [[0, Infinity]] };
    const late: Technician = { id: 1, maxDepth: 5, spans: [[120, Infinity]] };
    const plan = dispatchTasks([task(1, [work(10, { depth: 4 })])], day({ technicians: [half, late] }), [0]);
    expect(plan.placed[0]).toMatchObject({ technician: 1, start: 120, end: 130 });
  });
  test('whose hands it is in goes on with it', () => {
    const two = [always, { ...always, id: 2 }];
    const plan = dispatchTasks(
      [task(1, [work(10)], { heldBy: 2 }), task(2, [work(5)])],
      day({ technicians: two }),
      [0, 1],
    );
    expect(plan.placed.find((p) => p.task === 1)?.technician).toBe(2);
  });
});

test('worked example: what a wait costs, and what a due date that passes costs', () => {
  expect(costOf(task(1, [work(10)]), 720, day({ delayShare: 0.1 }))).toBeCloseTo(3, 9);
  const dated = task(1, [work(10)], { due: 720, value: 0 });
  expect(costOf(dated, 1440, day())).toBeCloseTo(22, 9);
  // Half an hour before, with an hour's margin: a quarter of what is planned so comes late. At the date it is a half.
  expect(costOf(dated, 690, day())).toBeCloseTo(5, 9);
  expect(costOf(dated, 720, day())).toBeCloseTo(10, 9);
  expect(costOf(dated, 600, day())).toBe(0);
});

test('what this bench cannot do is named with what it lacks', () => {
  const lacking = day({ equipment: { ...one, preheater: 0 }, technicians: [{ ...always, maxDepth: 3 }] });
  const tasks = [task(1, [work(5, { uses: ['preheater'] })]), task(2, [work(5, { depth: 4 })]), task(3, [work(5)])];
  expect([...undoableTasks(tasks, lacking)]).toEqual([
    [1, { lacks: 'preheater' }],
    [2, { depth: 4 }],
  ]);
});

const minutes = fc.integer({ min: 0, max: 90 });
const stretches = fc.array(
  fc.record({
    minutes: fc.integer({ min: 1, max: 90 }),
    place: fc.constantFrom(...workPlaceIds),
    depth: fc.integer({ min: 0, max: 4 }),
    uses: fc.subarray(['camera', 'microscope'] as EquipmentId[]),
    wait: fc.oneof(fc.constant(0), minutes),
    waitUses: fc.subarray(['bath'] as EquipmentId[]),
  }),
  { minLength: 1, maxLength: 3 },
);
const tasksOf = (max: number): fc.Arbitrary<Task[]> =>
  fc
    .array(
      fc.record({
        release: fc.oneof(fc.constant(0), minutes),
        stretches,
        value: fc.integer({ min: 0, max: 200 }),
        due: fc.option(fc.integer({ min: -500, max: 1500 })),
        heldBy: fc.constant(null),
        rank: fc.constant(null),
        id: fc.constant(0),
      }),
      { minLength: 1, maxLength: max },
    )
    .map((list) => list.map((t, k) => ({ ...t, id: k + 1 })));
const benches = fc.record({
  technicians: fc.constantFrom<Technician[]>(
    [always],
    [
      {
        ...always,
        spans: [
          [0, 100],
          [160, 300],
          [900, Infinity],
        ],
      },
    ],
    [
      always,
      {
        id: 2,
        maxDepth: 2,
        spans: [
          [50, 400],
          [1000, Infinity],
        ],
      },
    ],
  ),
  equipment: fc.constant(one),
  changeMinutes: fc.constantFrom(0, 4),
  delayShare: fc.constantFrom(0.02, 0.1),
  lateOnce: fc.constantFrom(0, 15),
  lateDaily: fc.constantFrom(0, 3),
  marginMinutes: fc.constantFrom(1, 120),
  marginShare: fc.constantFrom(0, 0.3),
});

describe('for any bench and any jobs', () => {
  test('nobody is in two places, nothing begins before it can, nothing shared is used twice at once', () => {
    fc.assert(
      fc.property(tasksOf(8), benches, (tasks, bench) => {
        const { placed, done } = orderWork(tasks, bench, { tries: 60 });
        expect(placed).toHaveLength(tasks.reduce((sum, t) => sum + t.stretches.length, 0));
        for (const [k, t] of tasks.entries()) {
          const mine = placed.filter((p) => p.task === t.id).sort((a, b) => a.stretch - b.stretch);
          let ready = t.release;
          for (const p of mine) {
            expect(p.start).toBeGreaterThanOrEqual(ready - 1e-9);
            ready = p.end + t.stretches[p.stretch].wait;
          }
          expect(done[k]).toBeCloseTo(ready, 6);
        }
        for (const { id } of bench.technicians) {
          const own = placed.filter((p) => p.technician === id).sort((a, b) => a.start - b.start);
          for (let k = 1; k < own.length; k++) expect(own[k].start).toBeGreaterThanOrEqual(own[k - 1].end - 1e-9);
        }
        for (const e of equipmentIds) {
          const held = placed
            .flatMap((p) => {
              const s = tasks[p.task - 1].stretches[p.stretch];
              const until = s.waitUses.includes(e) ? p.end + s.wait : s.uses.includes(e) ? p.end : null;
              return until === null ? [] : [[p.start, until]];
            })
            .sort((a, b) => a[0] - b[0]);
          for (let k = 1; k < held.length; k++) expect(held[k][0]).toBeGreaterThanOrEqual(held[k - 1][1] - 1e-9);
        }
      }),
      { numRuns: 150 },
    );
  });

  test('no list costs less than the bound, and what is found costs no more than any of them', () => {
    fc.assert(
      fc.property(tasksOf(5), benches, fc.integer(), (tasks, bench, seed) => {
        const order = tasks.map((_, k) => k).sort((a, b) => ((a * 7919 + seed) % 13) - ((b * 7919 + seed) % 13));
        const any = dispatchTasks(tasks, bench, order);
        const bound = minCost(tasks, bench);
        expect(bound).toBeLessThanOrEqual(any.cost + 1e-6);
        const found = orderWork(tasks, bench);
        expect(found.cost).toBeLessThanOrEqual(any.cost + 0.01);
        expect(found.bound).toBeGreaterThanOrEqual(bound - 0.01);
        expect(found.bound).toBeLessThanOrEqual(found.cost + 1e-9);
      }),
      { numRuns: 120 },
    );
  });

  test('no move of one task betters the order', () => {
    fc.assert(
      fc.property(tasksOf(12), benches, (tasks, bench) => {
        const { order, cost: found } = orderWork(tasks, bench);
        const cost = (list: number[]): number => dispatchTasks(tasks, bench, list).cost;
        for (const [from, task] of order.entries())
          for (const to of order.keys()) {
            const moved = order.toSpliced(from, 1).toSpliced(to, 0, task);
            expect(cost(moved)).toBeGreaterThan(found - 0.006);
          }
      }),
      { numRuns: 60 },
    );
  });

  test('the same jobs are ordered alike, wherever they stood before', () => {
    fc.assert(
      fc.property(tasksOf(12), benches, fc.infiniteStream(fc.nat()), (tasks, bench, numbers) => {
        const { order, cost } = orderWork(tasks, bench);
        const mixed = <T>(list: readonly T[]): T[] =>
          list
            .map((x) => ({ x, by: numbers.next().value as number }))
            .sort((a, b) => a.by - b.by)
            .map(({ x }) => x);
        const others = mixed(tasks);
        const again = orderWork(others, bench);
        expect(again.order.map((k) => others[k].id)).toEqual(order.map((k) => tasks[k].id));
        expect(orderWork(tasks, bench, { before: mixed(tasks.map((_, k) => k)) }).cost).toBeCloseTo(cost, 1);
      }),
      { numRuns: 60 },
    );
  });

  test('what is pinned stands first, by its rank', () => {
    fc.assert(
      fc.property(tasksOf(9), benches, (tasks, bench) => {
        const pinned = tasks.map((t, k) => ({ ...t, rank: k < 3 ? k : null }));
        expect(orderWork(pinned, bench, { tries: 40 }).order.slice(0, Math.min(3, tasks.length))).toEqual(
          [0, 1, 2].slice(0, tasks.length),
        );
      }),
      { numRuns: 40 },
    );
  });
});

test('one person without waits or dates: the dearest minute first, and it is known to be the best', () => {
  fc.assert(
    fc.property(
      fc.array(fc.record({ m: fc.integer({ min: 1, max: 60 }), v: fc.integer({ min: 1, max: 99 }) }), {
        minLength: 1,
        maxLength: 12,
      }),
      (list) => {
        const tasks = list.map(({ m, v }, k) => task(k + 1, [work(m)], { value: v }));
        const found = orderWork(tasks, day());
        expect(found.cost).toBeCloseTo(dispatchTasks(tasks, day(), byPrice(tasks, day())).cost, 2);
        // A minute of work is as dear as its whole: the bound is the optimum.
        expect(found.bound).toBeCloseTo(found.cost, 2);
      },
    ),
  );
});

test('an order that is there is not left for one that is as good', () => {
  const tasks = [1, 2, 3, 4, 5, 6, 7, 8, 9].map((id) => task(id, [work(10)]));
  const before = [4, 2, 8, 0, 1, 3, 5, 6, 7];
  expect(orderWork(tasks, day(), { before }).order).toEqual(before);
});
