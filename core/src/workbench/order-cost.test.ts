import { sayOrderCost, type PricedOrder } from './order-cost.ts';

const order = (over: Partial<PricedOrder> = {}): PricedOrder => ({
  waiting: 100,
  late: 40,
  close: 3,
  jobsLate: 2,
  ...over,
});

test.each<[Partial<PricedOrder>, string]>([
  [{}, 'This costs nothing.'],
  [{ waiting: 80 }, 'This costs nothing.'],
  [{ waiting: 114 }, 'This costs 14 €: jobs wait longer.'],
  [{ late: 60, jobsLate: 3 }, 'This costs 20 €: 1 job more is late (20 €).'],
  [
    { late: 84, jobsLate: 4, waiting: 95, close: 9 },
    'This costs 45 €: 2 jobs more are late (44 €), jobs wait less (−5 €), due dates come close (6 €).',
  ],
  [{ late: 52, close: 1 }, 'This costs 10 €: late jobs get later (12 €), due dates have more room (−2 €).'],
  [
    { late: 60, jobsLate: 3, waiting: 80 },
    'This costs nothing in all: 1 job more is late (20 €), jobs wait less (−20 €).',
  ],
  [{ late: 20, jobsLate: 1, waiting: 130 }, 'This costs 10 €: 1 job fewer is late (−20 €), jobs wait longer (30 €).'],
])('an order with %j instead of the best', (over, says) => {
  expect(sayOrderCost(order(over), order())).toBe(says);
});
