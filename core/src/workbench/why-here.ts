import { workPlaces } from '../catalogue/index.ts';
import { formatMoney } from './money.ts';
import { sayMinutes } from './say-minutes.ts';
import { handsOnMinutes, type Task } from './schedule/index.ts';
import type { NamedStretch } from './work-ahead.ts';
import settings from './why-here.json';

/** A job at its place in the order. */
export interface PlacedJob {
  task: Omit<Task, 'stretches'> & { stretches: readonly NamedStretch[] };
  /** Minutes from now at which it is planned to be begun, and to be done. */
  start: number;
  done: number;
  isHazard: boolean;
  isVain: boolean;
  /** What a wait that has just ended was. */
  waited: string | null;
  /** Expected euros of the best way on, less the bench time from here. */
  expected: number;
  /** Who has it in hand; null for nobody. */
  holder: string | null;
}

/**
 * Why a job stands where it stands, in one sentence: the strongest reason that holds.
 *
 * @param before the job in front of it; null for the first
 * @param rest the jobs that stand after it
 */
export function whyHere(job: PlacedJob, before: PlacedJob | null, rest: readonly PlacedJob[]): string {
  const { task } = job;
  const [first] = task.stretches;
  if (job.isHazard) return 'Swollen battery: make it safe before anything else.';
  if (task.rank !== null) return 'Moved here by hand.';
  if (job.holder !== null) return `${job.holder} is working on it.`;
  if (job.isVain) return 'Continuing costs more than it earns. Tell the customer now.';
  const work = sayMinutes(handsOnMinutes(task));
  if (task.due !== null && task.due < 0) return `Overdue by ${sayMinutes(-task.due)}; ${work} of work left.`;
  const total = task.stretches.reduce((sum, s) => sum + s.minutes + s.wait, 0);
  if (task.due !== null && job.done > task.due)
    return `Will be late: due in ${sayMinutes(task.due)}, ${work} of work left.`;
  if (task.due !== null && task.due < settings.tightFactor * Math.max(total, job.done))
    return `Due in ${sayMinutes(task.due)}, ${work} of work left.`;
  if (job.waited !== null) return `Ready again: ${job.waited}.`;
  if (first.wait >= settings.longWaitMinutes)
    return `Start it now: its wait of ${sayMinutes(first.wait)} runs while you do other jobs.`;
  const rate = (t: PlacedJob['task']): number => t.value / Math.max(1, handsOnMinutes(t));
  if (rest.every((r) => rate(r.task) <= rate(task) / settings.bestShare))
    return `Expected ${formatMoney(job.expected)} for ${work}: best value now.`;
  if (before && before.task.stretches[0].place === first.place)
    return `Same place as the job before it: ${workPlaces[first.place].name}.`;
  return `Expected ${formatMoney(job.expected)} for ${work} of work.`;
}
