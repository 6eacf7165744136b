import type { Bench } from './queries';
import type { RunSheet } from '@/server/work/day/sheet';
import { forgetSheet, rememberSheet, lastSheet } from './kept-sheet';

const bench = { jobs: [{ id: 3, label: 'tablet' }] } as unknown as Bench;
const sheet = {
  madeAt: '2026-11-27T10:00:00Z',
  entries: [
    { jobId: 3, isReady: true, next: { name: 'Measure it' }, why: 'Due in 1 h.' },
    { jobId: 4, isReady: false, next: { name: 'later' }, why: '' },
  ],
  waits: [{ jobId: 5, label: 'phone', words: '', kind: 'dry', until: null }],
} as unknown as RunSheet;

test('what was shown last is kept, read again, and gone when somebody signs out', () => {
  expect(lastSheet()).toBeNull();
  rememberSheet({ bench, sheet });
  expect(lastSheet()).toEqual({
    madeAt: '2026-11-27T10:00:00Z',
    lines: [{ jobId: 3, label: 'tablet', next: 'Measure it', why: 'Due in 1 h.' }],
    waits: [{ jobId: 5, label: 'phone', says: 'dry', until: null }],
  });
  forgetSheet();
  expect(lastSheet()).toBeNull();
});

test('what is no sheet stands in for none', () => {
  for (const text of ['{', '7', '{"lines": 3}', 'null']) {
    localStorage.setItem('umbral-last-sheet', text);
    expect(lastSheet()).toBeNull();
  }
});
