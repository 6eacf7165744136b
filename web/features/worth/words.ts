import type { WorthOption } from '@umbral/core';
import { formatPercent, formatMoney } from '@umbral/core/words';
import type { JobWorth } from '@/server/day/worth';

export const worthOptions: readonly WorthOption[] = ['go-on', 'ask', 'data', 'stop'];

/** What each way on is called, and what it means. */
export const optionWords: Record<WorthOption, { name: string; does: string; means: string }> = {
  'go-on': { name: 'Go on', does: 'to go on', means: 'test, repair what pays, ask when the fault is known' },
  ask: { name: 'Ask first', does: 'to ask first', means: 'quote now, and go on only if the customer agrees' },
  data: {
    name: 'Only the data',
    does: 'to bring out only the data',
    means: 'bring out what is stored, repair nothing else',
  },
  stop: { name: 'Stop', does: 'to stop', means: 'say so, and give it back' },
};

/** Where the answer changes, in sentences. */
export function changeWords({ curve }: Pick<JobWorth, 'curve'>, name: string): string[] {
  return curve.changes.map(
    ({ p, from, to }) =>
      `From ${formatPercent(p)} for ${name} on, ${optionWords[to].does} is worth more than ${optionWords[from].does}; it is ${formatPercent(curve.p)} now.`,
  );
}

/** What the tests are worth, in a sentence. */
export function knowingWords({ knowing: { blind, certain, tests, cost } }: Pick<JobWorth, 'knowing'>): string {
  if (certain < 1)
    return blind < 1
      ? 'Knowing the circuit for certain would bring nothing: no repair here pays.'
      : 'Knowing the circuit for certain would bring nothing more: go by the leading suspect.';
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
      : `${ownCases.succeeded} of ${ownCases.begun} here, and the shop policy beside them`;
  if (breakEven === null) return 'Going on would not pay even if every repair succeeded.';
  if (breakEven <= 0.005) return `Going on pays however seldom repairs succeed (${formatPercent(success)} do, ${own}).`;
  return `Going on pays if ${formatPercent(breakEven)} of repairs succeed; ${formatPercent(success)} do (${own}).`;
}
