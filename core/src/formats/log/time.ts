/** How the time column is written. */
export type TimeForm = 'number' | 'clock' | 'date-time';

const clockForm = /^(?:(\d{1,4}):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)\s*([ap]m)?$/i;
const dateForm =
  /^(\d{1,4})[-./](\d{1,2})[-./](\d{1,4})(?:[T ,]+(\d{1,2}):(\d{2})(?::(\d{2}(?:[.,]\d+)?))?\s*([ap]m)?)?\s*(Z|UTC|[+-]\d{2}:?\d{2})?$/i;

/** Tells how a cell writes the time; null where it is no time. */
export function timeFormOf(cell: string): TimeForm | null {
  const text = cell.trim();
  if (/^[+-]?(\d+([.,]\d*)?|[.,]\d+)([eE][+-]?\d+)?$/.test(text)) return 'number';
  if (clockForm.test(text)) return 'clock';
  if (dateForm.test(text)) return 'date-time';
  return null;
}

/** `hh:mm:ss[.fff]` or `mm:ss[.fff]` as seconds; NaN where it is neither. */
export function parseClock(text: string): number {
  const match = clockForm.exec(text.trim());
  if (!match) return NaN;
  const [, h = '0', m, s, half] = match;
  let hours = Number(h);
  if (half) hours = (hours % 12) + (half.toLowerCase() === 'pm' ? 12 : 0);
  const seconds = Number(s.replace(',', '.'));
  if (Number(m) > 59 || seconds >= 61) return NaN;
  return hours * 3600 + Number(m) * 60 + seconds;
}

/**
 * ISO 8601 and the usual regional orders (year first; day first with dots; month first with slashes unless that is
 * impossible) as seconds since 1970; NaN where it is no date. Without a zone the time is taken as UTC: only
 * differences are used.
 */
export function parseDateTime(text: string): number {
  const match = dateForm.exec(text.trim());
  if (!match) return NaN;
  const [, a, b, c, h = '0', min = '0', s = '0', half, zone] = match;
  let [year, month, day] = [Number(a), Number(b), Number(c)];
  if (a.length < 4) {
    year = c.length <= 2 ? 2000 + Number(c) : Number(c);
    const monthFirst = text.includes('/') && Number(a) <= 12;
    [month, day] = monthFirst ? [Number(a), Number(b)] : [Number(b), Number(a)];
  }
  if (month < 1 || month > 12 || day < 1 || day > 31) return NaN;
  let hours = Number(h);
  if (half) hours = (hours % 12) + (half.toLowerCase() === 'pm' ? 12 : 0);
  const utc = Date.UTC(year, month - 1, day, hours, Number(min)) / 1000 + Number(s.replace(',', '.'));
  return utc - zoneSeconds(zone);
}

function zoneSeconds(zone: string | undefined): number {
  if (!zone || !/^[+-]/.test(zone)) return 0;
  const digits = zone.slice(1).replace(':', '');
  const size = Number(digits.slice(0, 2)) * 3600 + Number(digits.slice(2)) * 60;
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
