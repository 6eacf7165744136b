import type { CheckId } from './checks.ts';

/** How far the device has to be opened for a check, from 0 to 5. */
export const depthWords = [
  'nothing opened',
  'cover off',
  'unplugging inside',
  'board out, probing',
  'heat or shields off',
  'stack split or chip off',
];

/** What can go wrong at each of these depths. */
export const riskWords = [
  'no risk',
  'clips and flexes can tear',
  'connectors can tear; battery off first',
  'a probe can slip and short; battery off first',
  'burns and fumes; parts can burst',
  'cannot be undone',
];

const own: Partial<Record<CheckId, string>> = {
  'voltage-sweep': 'stay below the full battery voltage',
  inject: 'parts can burst: eye protection, limit set, hand on the off key',
  'known-good-charger': 'no risk; not with a swollen cell',
};

/** What can go wrong in a check. */
export function riskOf(check: CheckId, depth: number): string {
  return own[check] ?? riskWords[depth] ?? riskWords[0];
}
