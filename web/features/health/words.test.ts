import type { Health } from '@/server/edges/health';
import { bytesWords, warningsOf } from './words';

const now = new Date('2026-03-09T10:00:00Z');
const well: Health = {
  parts: [{ name: 'database', part: { state: 'runs', why: '', restarts: 0, since: '' } }],
  database: { version: '15', bytes: 1, connections: 1, milliseconds: 1 },
  tables: [],
  slow: [],
  recorder: { database: 'ours', why: '', waiting: 0, disk: null, watchdog: true, problems: [] },
  benches: [],
  queue: { waiting: 0, failed: 0 },
  disk: { freeBytes: 1, freeShare: 0.5 },
  backup: { madeAt: '2026-03-08T10:00:00Z', file: 'a', bytes: 1 },
  migration: '',
};

test('nothing is to be looked at while all is well', () => expect(warningsOf(well, now)).toEqual([]));

test('what is wrong is said in a sentence each', () => {
  const bad: Health = {
    ...well,
    parts: [{ name: 'recorder', part: { state: 'ended', why: 'SIGKILL', restarts: 2, since: '' } }],
    recorder: { problem: 'The recorder does not answer.' },
    disk: { freeBytes: 1, freeShare: 0.034 },
    backup: null,
    benches: [{ name: 'van', seenAt: null, clockOffS: -93 }],
    queue: { waiting: 0, failed: 2 },
  };
  expect(warningsOf(bad, now)).toEqual([
    'The recorder ended (SIGKILL). It is restarting.',
    'The recorder does not answer.',
    'The disk is almost full: 3 % is left.',
    'There is no backup yet.',
    'The clock of bench van is 93 s slow. The server’s time is used.',
    '2 background tasks failed.',
  ]);
  expect(warningsOf({ ...well, backup: { ...well.backup!, madeAt: '2026-02-01T10:00:00Z' } }, now)).toEqual([
    'The last backup is 36 days old.',
  ]);
});

test.each([
  [0, '0 B'],
  [999, '999 B'],
  [1500, '1.5 kB'],
  [123_456_789, '123 MB'],
  [2.5e12, '2.5 TB'],
])('%d bytes are %s', (bytes, words) => expect(bytesWords(bytes)).toBe(words));
