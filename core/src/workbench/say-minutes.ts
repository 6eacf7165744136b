import { countOf } from '../quantity/index.ts';
const minutesPerHour = 60;
const minutesPerDay = 1440;

/**
 * A span of time as somebody says it.
 *
 * @param minutes less than none counts as none
 * @example
 * sayMinutes(90); // '1.5 h'
 */
export function sayMinutes(minutes: number): string {
  const m = minutes > 0 ? Math.max(1, Math.round(minutes)) : 0;
  if (m < minutesPerHour) return `${m} min`;
  if (m < minutesPerDay) return `${Number((m / minutesPerHour).toFixed(1))} h`;
  const days = Number((m / minutesPerDay).toFixed(1));
  return countOf(days, 'day');
}
