import type { RecorderHealth } from '@umbral/instruments';

/** What is wrong with the recorder itself, in sentences for whoever measures; empty while all is well. */
export function notesOf(health: RecorderHealth): string[] {
  const { database, waiting, disk, watchdog } = health;
  return [
    database === 'away'
      ? 'The database is not available. Recordings are saved on disk for now. Nothing new can be armed.'
      : '',
    database === 'held by another' ? 'Another recorder controls these instruments.' : '',
    waiting > 0 ? `${waiting} recording${waiting > 1 ? 's wait' : ' waits'} on disk for the database.` : '',
    disk?.warning ?? '',
    watchdog ? '' : 'The emergency watchdog is starting.',
  ].filter(Boolean);
}
