import { circuitNames, inSentence } from '@umbral/core/words';
import type { Scorecard } from '@umbral/core';
import type { ScorecardPageView } from './queries';

/** What to do about it, in one sentence; and whether today's percentages are adjusted already. */
export function adviceFor(
  { confusions }: Pick<Scorecard, 'confusions'>,
  { holds, recalibration }: Pick<ScorecardPageView, 'holds' | 'recalibration'>,
): string {
  const isAdjusted = recalibration.isOn && recalibration.found !== null;
  const now = isAdjusted
    ? 'The percentages you see today are already adjusted by these results.'
    : 'The percentages you see today are not adjusted.';
  if (holds === 'too-few')
    return `Confirm the cause when you close a job. This page needs it to tell whether the percentages are right. ${now}`;
  const [worst] = confusions;
  const measure = worst
    ? `Before you order a part for ${inSentence(circuitNames[worst.said])}, measure once more: it was most often ${inSentence(circuitNames[worst.was])}.`
    : 'Go on as before.';
  if (holds === 'too-much' && !isAdjusted && recalibration.found !== null)
    return `Switch on the adjustment below. ${measure} ${now}`;
  return `${measure} ${now}`;
}
