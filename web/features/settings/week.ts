import type { WorkingHours } from '@umbral/core';

/** Days of the week, as the calendar begins it here. */
export const days = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'] as const;

/** Spans of a day as they are typed: "08:00-12:00, 13:00-17:00"; empty for a day off. */
export function sayDay(spans: WorkingHours['week'][number]): string {
  return spans.map(([from, to]) => `${from}-${to}`).join(', ');
}

/**
 * Spans of a day from what somebody typed; what is no time is left as it is for the server to name.
 *
 * @throws {RangeError} with the day where a span has no two ends
 */
export function dayFrom(text: string, day: string): [string, string][] {
  return text
    .split(',')
    .map((span) => span.trim())
    .filter((span) => span !== '')
    .map((span) => {
      const ends = span.split(/\s*(?:-|–|to)\s*/);
      if (ends.length !== 2)
        throw new RangeError(`${day}: "${span}" is not a time span; expected one such as 08:00-12:00`);
      return [fullTime(ends[0]), fullTime(ends[1])];
    });
}

/** "8" and "8:30" as "08:00" and "08:30". */
function fullTime(text: string): string {
  const found = /^(\d{1,2})(?::(\d\d))?$/.exec(text.trim());
  return found ? `${found[1].padStart(2, '0')}:${found[2] ?? '00'}` : text.trim();
}

/**
 * The spans of a week from what was typed for each day.
 *
 * @throws {RangeError} with the day of the first slip
 */
export function weekFrom(typed: readonly string[]): [string, string][][] {
  return typed.map((text, d) => dayFrom(text, days[d]));
}
