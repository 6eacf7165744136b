/** How the time column is written. */
export type TimeForm = 'number' | 'clock' | 'date-time';

const clockForm =
  /^(?:(\d+)\s*(?:d|days?),?\s+|(\d+)\.(?=\d\d:))?(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2}(?:[.,:]\d+)?)\s*([ap]m)?$/i;
const timeOfDay = String.raw`(?:[T ,]+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,:]\d+)?))?\s*([ap]m)?)?\s*(Z|UTC|GMT|[+-]\d{2}(?::?\d{2})?)?$`;
// eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestTime`
const dateForm = new RegExp(String.raw`^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})${timeOfDay}`, 'i');
const namedForm = new RegExp(
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestTime`
  String.raw`^(?:[a-z]{3,9},? )?(\d{1,4})[-. ]+([a-z]{3,9})[-., ]+(\d{1,4})${timeOfDay}`,
  'i',
);
const nameFirst = new RegExp(
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestTime`
  String.raw`^(?:[a-z]{3,9},? )?([a-z]{3,9}) (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})${timeOfDay}`,
  'i',
);
/** ISO 8601 without signs between: `20260302T100000.250Z`. */
const basicForm = /^(\d{4})(\d{2})(\d{2})[T ](\d{2})(\d{2})(\d{2}(?:[.,]\d+)?)()(Z|[+-]\d{2}(?::?\d{2})?)?$/i;
const months = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];

/** No instant takes more characters. */
const longestTime = 80;

/** Tells how a cell writes the time; null where it is no time. */
export function timeFormOf(cell: string): TimeForm | null {
  const text = cell.trim();
  if (text.length > longestTime) return null;
  if (/^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$/.test(text)) return 'number';
  if (clockForm.test(text)) return 'clock';
  if (readDate(text)) return 'date-time';
  return null;
}

/**
 * `hh:mm:ss[.fff]` or `mm:ss[.fff]` as seconds; NaN where it is neither.
 *
 * @param text one cell
 * @returns seconds
 * @example parseClock('01:02:03.5') // 3723.5
 */
export function parseClock(text: string): number {
  if (text.length > longestTime) return NaN;
  const match = clockForm.exec(text.trim());
  if (!match) return NaN;
  const [, days, moreDays, h = '0', m, s, half] = match;
  let hours = Number(h);
  if (half) hours = (hours % 12) + (half.toLowerCase() === 'pm' ? 12 : 0);
  const seconds = secondsOf(s);
  if (Number(m) > 59 || seconds >= 61) return NaN;
  return Number(days ?? moreDays ?? 0) * 86_400 + hours * 3600 + Number(m) * 60 + seconds;
}

/**
 * ISO 8601 and the usual regional orders (year first; day first with dots; month first with slashes unless that is
 * impossible) as seconds since 1970; NaN where it is no date. Without a zone the time is taken as UTC: only
 * differences are used.
 *
 * @param text one cell
 * @example parseDateTime('2026-03-01T00:00:00Z') // 1772323200
 */
export function parseDateTime(text: string): number {
  if (text.length > longestTime) return NaN;
  const parts = readDate(text.trim());
  if (!parts) return NaN;
  const { date, time } = parts;
  const [year, month, day] = date;
  if (!(month >= 1 && month <= 12 && day >= 1 && day <= 31)) return NaN;
  const [h = '0', min = '0', s = '0', half, zone] = time;
  let hours = Number(h);
  if (half) hours = (hours % 12) + (half.toLowerCase() === 'pm' ? 12 : 0);
  return Date.UTC(year, month - 1, day, hours, Number(min)) / 1000 + secondsOf(s) - zoneSeconds(zone);
}

/** Year, month and day, and what is written of the time of day. */
function readDate(text: string): { date: [number, number, number]; time: (string | undefined)[] } | null {
  const basic = basicForm.exec(text);
  if (basic) return { date: [Number(basic[1]), Number(basic[2]), Number(basic[3])], time: basic.slice(4) };
  const first = nameFirst.exec(text);
  if (first) {
    const month = monthOf(first[1]);
    return month === 0 ? null : { date: [Number(first[3]), month, Number(first[2])], time: first.slice(4) };
  }
  const named = namedForm.exec(text);
  if (named) {
    const month = monthOf(named[2]);
    const [day, year] = named[1].length === 4 ? [named[3], named[1]] : [named[1], named[3]];
    return month === 0 ? null : { date: [fullYear(year), month, Number(day)], time: named.slice(4) };
  }
  const match = dateForm.exec(text);
  if (!match) return null;
  const [, a, b, c] = match;
  if (a.length === 4) return { date: [Number(a), Number(b), Number(c)], time: match.slice(4) };
  const monthFirst = text.includes('/') && Number(a) <= 12;
  const [month, day] = monthFirst ? [Number(a), Number(b)] : [Number(b), Number(a)];
  return { date: [fullYear(c), month, day], time: match.slice(4) };
}

/** 1 to 12; 0 where the word is no month. */
const monthOf = (word: string): number => months.indexOf(word.slice(0, 3).toLowerCase()) + 1;

const fullYear = (digits: string): number => (digits.length <= 2 ? 2000 + Number(digits) : Number(digits));

/** Seconds with a fraction after a point, a comma or a colon. */
const secondsOf = (text: string): number => Number(text.replace(/[,:]/, '.'));

function zoneSeconds(zone: string | undefined): number {
  if (!zone || !/^[+-]/.test(zone)) return 0;
  const digits = zone.slice(1).replace(':', '');
  const size = Number(digits.slice(0, 2)) * 3600 + Number(digits.slice(2) || 0) * 60;
  return zone.startsWith('-') ? -size : size;
}

/** A clock without a date that falls by more than half a day has passed midnight. */
export class MidnightCounter {
  private days = 0;
  private last = NaN;

  next(seconds: number): number {
    if (seconds < this.last - 43_200) this.days++;
    else if (seconds > this.last + 43_200 && this.days > 0) {
      return seconds + (this.days - 1) * 86_400;
    }
    this.last = seconds;
    return seconds + this.days * 86_400;
  }
}
