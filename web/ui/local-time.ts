/** Of the pages, whatever the browser's is: one page has one language. */
const language = 'en-GB';

/** A moment in the reader's zone and manner: the time today, the day before it otherwise. Only in the browser. */
export function localMoment(iso: string): string {
  const at = new Date(iso);
  const time = at.toLocaleTimeString(language, { hour: '2-digit', minute: '2-digit', hour12: false });
  return at.toDateString() === new Date().toDateString() ? time : `${localDay(iso)} ${time}`;
}

/** The day of a moment in the reader's zone, such as 25 Nov. Only in the browser. */
export function localDay(iso: string): string {
  const at = new Date(iso);
  return `${at.getDate()} ${at.toLocaleDateString(language, { month: 'short' })}`;
}

/** A day of the calendar, YYYY-MM-DD, such as 25 Nov: the same day for every reader, wherever they are. */
export function sayDay(day: string): string {
  const at = new Date(`${day}T00:00:00Z`);
  return `${at.getUTCDate()} ${at.toLocaleDateString(language, { month: 'short', timeZone: 'UTC' })}`;
}
