import { sayMinutes } from '@umbral/core/words';

/**
 * Minutes from what somebody typed: "10", "10 min", "1.5 h", "2 d", "90 minutes"; null for nothing.
 *
 * @throws {RangeError} with what was expected
 */
export function minutesOf(text: string): number | null {
  const typed = text.trim();
  if (typed === '') return null;
  const found = /^(\d+(?:[.,]\d+)?)\s*(m|min|minutes?|h|hours?|d|days?)?$/i.exec(typed);
  if (!found) throw new RangeError(`How long: "${typed}" is not a time; expected one such as 10 min, 4 h or 2 days`);
  const value = Number(found[1].replace(',', '.'));
  const unit = (found[2] ?? 'm')[0].toLowerCase();
  return value * (unit === 'd' ? 1440 : unit === 'h' ? 60 : 1);
}

/** What is left of a wait, as a clock: "4:09", "1:02:30"; "over for 3 min" where it has passed. */
export function countdown(untilMs: number, nowMs: number): string {
  const left = Math.ceil((untilMs - nowMs) / 1000);
  if (left <= 0) return `over for ${sayMinutes(-left / 60)}`;
  if (left >= 36 * 3600) return sayMinutes(left / 60);
  const two = (x: number): string => String(x).padStart(2, '0');
  const [h, m, s] = [Math.floor(left / 3600), Math.floor((left % 3600) / 60), left % 60];
  return h > 0 ? `${h}:${two(m)}:${two(s)}` : `${m}:${two(s)}`;
}
