import type { Outlook } from '../inference/index.ts';
import { formatPercent } from '../quantity/index.ts';

/** The outlook as a sentence; empty where there is nothing left to test. */
export function sayOutlook({ minutes, decided }: Outlook): string {
  if (minutes < 0.5) return '';
  const about = `About ${Math.round(minutes)} minutes of tests`;
  return decided < 0.1
    ? `${about} narrow it further; settling it takes measuring on the board.`
    : `${about} to a decision, reached in ${formatPercent(decided)} of such cases.`;
}
