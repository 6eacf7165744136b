import { DateTime } from 'luxon';
import type { PresenceSpan } from './schedule/index.ts';
import settings from './hours.json';

/** From one time of a day to another, as "08:30". */
type DaySpan = readonly [from: string, to: string];

/** When somebody, or the shop, is at work. */
export interface WorkingHours {
  /** IANA name of the time zone: "Europe/Vienna". */
  zone: string;
  /** By day of the week, Monday first: 7 lists in order, empty for a day off. */
  week: readonly (readonly DaySpan[])[];
  /** Days on which the shop is closed, as YYYY-MM-DD. */
  closed: readonly string[];
}

/** Hours of a shop that has not stated its own. */
export const usualHours: WorkingHours = {
  zone: settings.zone,
  week: settings.week as unknown as WorkingHours['week'],
  closed: [],
};

const minutesPerDay = 1440;
const msPerMinute = 60_000;

/**
 * When somebody is there, from now on. Hours are those on the clock of the shop: the night in which it is put forward or
 * back, they begin and end where the clock says.
 *
 * @param days how many are looked ahead; after them somebody counts as there all the time, so that a plan always ends
 * @returns spans of minutes from now, in order and apart
 */
export function presenceOf(hours: WorkingHours, now: Date, days: number = settings.daysAhead): PresenceSpan[] {
  const begin = DateTime.fromJSDate(now, { zone: hours.zone });
  const out: PresenceSpan[] = [];
  for (let d = 0; d < days; d++) {
    const day = begin.startOf('day').plus({ days: d });
    for (const span of spansOf(hours, day)) {
      const from = minutesFrom(begin, span.start);
      const to = minutesFrom(begin, span.end);
      if (to > 0) out.push([Math.max(0, from), to]);
    }
  }
  return [...out, [days * minutesPerDay, Infinity]];
}

/** The spans of one day of the calendar, without those that the clock skips. */
function spansOf(hours: WorkingHours, day: DateTime): { start: DateTime; end: DateTime }[] {
  if (hours.closed.includes(day.toISODate() ?? '')) return [];
  return hours.week[day.weekday - 1]
    .map(([from, to]) => ({ start: at(day, from), end: at(day, to) }))
    .filter(({ start, end }) => end > start);
}

function at(day: DateTime, time: string): DateTime {
  const [hour, minute] = time.split(':').map(Number);
  // 24:00 is the next midnight.
  return day.plus({ days: Math.floor(hour / settings.hoursPerDay) }).set({ hour: hour % settings.hoursPerDay, minute });
}

const minutesFrom = (begin: DateTime, moment: DateTime): number => (moment.toMillis() - begin.toMillis()) / msPerMinute;

/** Whether the shop is open at a moment. */
export function isOpenAt(hours: WorkingHours, moment: Date): boolean {
  const t = DateTime.fromJSDate(moment, { zone: hours.zone });
  return spansOf(hours, t.startOf('day')).some(({ start, end }) => start <= t && t < end);
}

/**
 * The moment itself where the shop is open then, or the next at which it opens.
 *
 * @returns null where it does not open within the days that are looked ahead
 */
export function openFrom(hours: WorkingHours, moment: Date): Date | null {
  const [first] = presenceOf(hours, moment);
  return first[1] === Infinity ? null : new Date(moment.getTime() + first[0] * msPerMinute);
}

/** End of work on the day of a moment, or null on a day off. */
export function closesAt(hours: WorkingHours, moment: Date): Date | null {
  const day = DateTime.fromJSDate(moment, { zone: hours.zone }).startOf('day');
  return spansOf(hours, day).at(-1)?.end.toJSDate() ?? null;
}

/** The end of a day of the calendar: what is due on a day is due until the shop closes, or until midnight on a day off. */
export function dueMoment(hours: WorkingHours, day: string): Date {
  const start = DateTime.fromISO(day, { zone: hours.zone });
  return closesAt(hours, start.plus({ hours: settings.noon }).toJSDate()) ?? start.endOf('day').toJSDate();
}

/** The day of the calendar that a moment is on in the shop, as YYYY-MM-DD. */
export function dayOf(hours: WorkingHours, moment: Date): string {
  return DateTime.fromJSDate(moment, { zone: hours.zone }).toISODate() ?? '';
}

/**
 * What is wrong with hours that somebody stated, in a sentence; null where nothing is.
 */
export function hoursProblem({ zone, week, closed }: WorkingHours): string | null {
  if (!DateTime.local({ zone }).isValid)
    return `Time zone: "${zone}" is not a time zone; expected one such as Europe/Vienna.`;
  if (week.length !== settings.week.length) return 'Hours: expected seven days, Monday first.';
  for (const [d, spans] of week.entries()) {
    const name = settings.dayNames[d];
    let before = '';
    for (const [from, to] of spans) {
      const bad = [from, to].find((x) => !/^([01]\d|2[0-4]):[0-5]\d$/.test(x) || x > '24:00');
      if (bad !== undefined) return `${name}: "${bad}" is not a time of day; expected one such as 08:30.`;
      if (to <= from) return `${name}: ${from} to ${to} ends before it begins.`;
      if (from < before) return `${name}: ${from} begins before ${before}, before the previous span ends.`;
      before = to;
    }
  }
  const day = closed.find((x) => !DateTime.fromISO(x).isValid || !/^\d{4}-\d\d-\d\d$/.test(x));
  return day === undefined ? null : `Closed: "${day}" is not a date; expected one such as 2026-12-24.`;
}

/** From the first to the last moment of a day of the calendar: 23 hours of it where the clock is put forward. */
export function dayBounds(hours: WorkingHours, day: string): { from: Date; to: Date } {
  const start = DateTime.fromISO(day, { zone: hours.zone });
  return { from: start.toJSDate(), to: start.plus({ days: 1 }).toJSDate() };
}

/** The next day of the calendar on which the shop is open; null where there is none within the days that are looked ahead. */
export function nextWorkday(hours: WorkingHours, day: string): string | null {
  const start = DateTime.fromISO(day, { zone: hours.zone });
  for (let d = 1; d <= settings.daysAhead; d++) {
    const next = start.plus({ days: d });
    if (spansOf(hours, next).length > 0) return next.toISODate();
  }
  return null;
}
