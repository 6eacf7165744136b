/** A moment in the reader's zone and manner: the time today, the day before it otherwise. Only in the browser. */
export function localMoment(iso: string): string {
  const at = new Date(iso);
  const time = at.toLocaleTimeString(undefined, { hour: '2-digit', minute: '2-digit', hour12: false });
  return at.toDateString() === new Date().toDateString() ? time : `${localDay(iso)} ${time}`;
}

/** The day of a moment in the reader's zone, such as 25 Nov. Only in the browser. */
export function localDay(iso: string): string {
  const at = new Date(iso);
  return `${at.getDate()} ${at.toLocaleDateString(undefined, { month: 'short' })}`;
}
