import type { Outlook } from '../inference/index.ts';
import { formatPercent } from '../quantity/index.ts';
import policy from './policy.json';

/** The outlook as a sentence; empty where there is nothing left to test. */
export function sayOutlook({ minutes, decided }: Outlook): string {
  if (minutes < 0.5) return '';
  const about = `About ${Math.round(minutes)} minutes of tests`;
  return decided < policy.rarelyUnder
    ? `${about} narrow it further. To decide, measure on the board.`
    : `${about} to a decision, in ${formatPercent(decided)} of such cases.`;
}
