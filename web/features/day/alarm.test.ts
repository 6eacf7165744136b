import type { RunningWait } from '@/server/work/entries/waits';
import { ringingWaits, titleWith } from './alarm';

const now = Date.parse('2026-11-27T10:00:00Z');
const wait = (over: Partial<RunningWait>): RunningWait => ({
  id: 1,
  jobId: 1,
  label: 'Tablet',
  kind: 'bath',
  words: '',
  since: '2026-11-27T09:00:00Z',
  until: '2026-11-27T10:00:00Z',
  heard: false,
  ...over,
});

test('what is over rings until it is heard', () => {
  expect(ringingWaits([wait({})], now)).toHaveLength(1);
  expect(
    ringingWaits([wait({ heard: true }), wait({ until: null }), wait({ until: '2026-11-27T10:05:00Z' })], now),
  ).toEqual([]);
});

test('the title says how many ring, once', () => {
  expect(titleWith('Bench · Umbral', 2)).toBe('(2) Bench · Umbral');
  expect(titleWith('(2) Bench · Umbral', 1)).toBe('(1) Bench · Umbral');
  expect(titleWith('(1) Bench · Umbral', 0)).toBe('Bench · Umbral');
});
