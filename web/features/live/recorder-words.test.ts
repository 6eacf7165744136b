import { notesOf } from './recorder-words';

const well = { database: 'ours' as const, why: '', waiting: 0, disk: null, watchdog: true, problems: [] };

test('nothing is said while all is well', () => expect(notesOf(well)).toEqual([]));

test('what is wrong is said in sentences, with what is safe', () => {
  expect(notesOf({ ...well, database: 'away', waiting: 2 })).toEqual([
    'The database is not available. Recordings are saved on disk for now. Nothing new can be armed.',
    '2 recordings wait on disk for the database.',
  ]);
  expect(notesOf({ ...well, waiting: 1, watchdog: false })[0]).toBe('1 recording waits on disk for the database.');
  const disk = { freeBytes: 1e9, freeShare: 0.05, warning: 'The disk is almost full: 5 % (1000 MB) is left.' };
  expect(notesOf({ ...well, disk })).toEqual([disk.warning]);
});
