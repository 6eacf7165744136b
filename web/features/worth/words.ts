import type { WorthOption } from '@umbral/core';
import { formatPercent, formatMoney } from '@umbral/core/words';
import type { JobWorth } from '@/server/work/day/worth';

export const worthOptions: readonly WorthOption[] = ['go-on', 'ask', 'data', 'stop'];

/** What each way on is called, and what it means. */
export const optionWords: Record<WorthOption, { name: string; does: string; means: string }> = {
  'go-on': { name: 'Continue', does: 'to continue', means: 'test, repair what pays, ask when the fault is known' },
  ask: { name: 'Ask first', does: 'to ask first', means: 'quote now, continue only if the customer agrees' },
  data: {
    name: 'Data only',
    does: 'to recover only the data',
    means: 'recover the data, repair nothing else',
  },
  stop: { name: 'Stop', does: 'to stop', means: 'tell the customer and return it' },
};

/** Where the answer changes, in sentences. */
export function changeWords({ curve }: Pick<JobWorth, 'curve'>, name: string): string[] {
  return curve.changes.map(
    ({ p, from, to }) =>
      `From ${formatPercent(p)} for ${name} it pays more ${optionWords[to].does} than ${optionWords[from].does}. It is ${formatPercent(curve.p)} now.`,
  );
}

/** What the tests are worth, in a sentence. */
export function knowingWords({ knowing: { blind, certain, tests, cost } }: Pick<JobWorth, 'knowing'>): string {
  if (certain < 1)
    return blind < 1
      ? 'Knowing the circuit for certain would not help, because no repair pays here.'
      : 'Knowing the circuit for certain would not change the plan. Act on the leading suspect.';
  return `Knowing the circuit for certain would be worth ${formatMoney(certain)}. The tests ahead are worth ${formatMoney(tests)} and cost ${formatMoney(cost)}.`;
}

/** How often such repairs must succeed, in a sentence. */
export function breakEvenWords({
  breakEven,
  success,
  ownCases,
  isRepairedHere,
}: Pick<JobWorth, 'breakEven' | 'success' | 'ownCases' | 'isRepairedHere'>): string {
  if (!isRepairedHere) return 'This shop does not repair the leading suspect, by its policy.';
  const own =
    ownCases.begun === 0
      ? 'by the shop policy'
      : `${ownCases.succeeded} of ${ownCases.begun} here, plus the shop policy`;
  if (breakEven === null) return 'Continuing would not pay even if every repair succeeded.';
  if (breakEven <= 0.005)
    return `Continuing pays no matter how often repairs succeed (${formatPercent(success)} do, ${own}).`;
  return `Continuing pays if ${formatPercent(breakEven)} of repairs succeed; ${formatPercent(success)} do (${own}).`;
}
