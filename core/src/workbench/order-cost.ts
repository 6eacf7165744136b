import { countOf } from '../quantity/index.ts';
import { formatMoney } from './money.ts';
import type { PlanCost } from './schedule/index.ts';

/** An order of work: what it costs by what it costs for, euros, and how many jobs come late in it. */
export interface PricedOrder extends PlanCost {
  jobsLate: number;
}

/** Euros below which nobody asks. */
const worthSaying = 0.5;

/**
 * What one order costs more than another, in one sentence: lateness as the shop's policy prices it, waiting, and due dates that
 * come close.
 *
 * @example
 * const best = { waiting: 10, late: 0, close: 0, jobsLate: 0 };
 * sayOrderCost({ ...best, late: 20, waiting: 24, jobsLate: 1 }, best); // 'This costs 34 €: 1 job more is late (20 €), jobs wait longer (14 €).'
 */
export function sayOrderCost(wanted: PricedOrder, best: PricedOrder): string {
  const more = (key: keyof PlanCost): number => wanted[key] - best[key];
  const jobs = wanted.jobsLate - best.jobsLate;
  const lateWords =
    jobs === 0
      ? ['late jobs get later', 'late jobs are less late']
      : [
          `${countOf(jobs, 'job')} more ${jobs === 1 ? 'is' : 'are'} late`,
          `${countOf(-jobs, 'job')} fewer ${jobs === -1 ? 'is' : 'are'} late`,
        ];
  const parts = [
    {
      euros: more('late'),
      words: lateWords[jobs === 0 ? Number(more('late') < 0) : Number(jobs < 0)],
      isSaid: jobs !== 0,
    },
    { euros: more('waiting'), words: more('waiting') > 0 ? 'jobs wait longer' : 'jobs wait less', isSaid: false },
    {
      euros: more('close'),
      words: more('close') > 0 ? 'due dates come close' : 'due dates have more room',
      isSaid: false,
    },
  ].filter(({ euros, isSaid }) => isSaid || Math.abs(euros) >= worthSaying);
  const total = more('late') + more('waiting') + more('close');
  const says = parts.map(({ euros, words }) => `${words} (${formatMoney(euros)})`).join(', ');
  if (total < worthSaying && jobs <= 0) return 'This costs nothing.';
  if (parts.length === 1 && jobs === 0) return `This costs ${formatMoney(total)}: ${parts[0].words}.`;
  return total < worthSaying ? `This costs nothing in all: ${says}.` : `This costs ${formatMoney(total)}: ${says}.`;
}
