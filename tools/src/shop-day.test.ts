import { compareRules, dayRules } from './day-rules.ts';
import { madeUpJobs } from './made-up-jobs.ts';
import { SimulatedBench } from './shop-day.ts';

test('the same jobs come in and go the same way, whoever orders them', () => {
  const [a, b] = [madeUpJobs(3), madeUpJobs(3)];
  expect(b).toEqual(a);
  expect(madeUpJobs(4)).not.toEqual(a);
  for (const job of a) expect(job.due === null || job.due > job.arrives).toBe(true);
});

test('a bench under no pressure: every order brings the same', () => {
  const results = compareRules([1], {
    days: 5,
    aDay: 0,
    technicians: 2,
    hands: madeUpJobs(1)
      .slice(0, 3)
      .map((j) => j.hand),
  });
  const euros = dayRules.map((rule) => results[rule]?.euros);
  expect(new Set(euros).size).toBe(1);
});

test('a full bench: the run sheet earns more than due dates do', () => {
  const { sheet, due } = compareRules([1, 2, 3, 4], { days: 12, aDay: 10, rules: ['sheet', 'due'] });
  expect(sheet?.euros).toBeGreaterThan(due?.euros ?? Infinity);
});

test('what a week adds up to: nothing is finished and declined at once, nobody works when nobody is there', () => {
  const jobs = madeUpJobs(5);
  const result = new SimulatedBench(jobs, 'due').run();
  expect(result.finished + result.declined + result.withdrawn).toBeLessThanOrEqual(jobs.length);
  expect(result.hours).toBe(4 * 8 + 6);
  expect(result.late).toBeLessThanOrEqual(result.due);
});
