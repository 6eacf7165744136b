import { act, screen } from '@testing-library/react';
import { show } from '@/testing/show';
import { OutputAlarm } from './output-alarm';

let answers: (() => Promise<unknown>)[] = [];
beforeEach(() => {
  jest.useFakeTimers();
  global.fetch = jest.fn(async () => ({ json: () => (answers.length > 1 ? answers.shift()! : answers[0])() })) as never;
});
afterEach(() => jest.useRealTimers());

const pass = (ms: number): Promise<void> => act(() => jest.advanceTimersByTimeAsync(ms));
const lost = { key: 'a', name: 'the van’s supply', bench: null };

test('an output that may be on is said above everything on any page, and no longer once it is known to be off', async () => {
  answers = [
    async () => ({ ok: true, value: [] }),
    async () => ({ ok: true, value: [lost, { key: 'b', name: 'supply two', bench: 'Van bench' }] }),
    async () => ({ ok: true, value: [] }),
  ];
  show(<OutputAlarm />);
  await pass(100);
  expect(screen.queryByRole('alert')).toBeNull();
  await pass(3000);
  const alarm = screen.getByRole('alert');
  expect(alarm.textContent).toContain('Switch off the van’s supply at the supply itself.');
  expect(alarm.textContent).toContain('The supply is at Van bench.');
  await pass(3000);
  expect(screen.queryByRole('alert')).toBeNull();
});

test('it stays while nobody answers, or the session is locked', async () => {
  answers = [
    async () => ({ ok: true, value: [lost] }),
    () => Promise.reject(new Error('away')),
    async () => ({ ok: false, kind: 'locked' }),
  ];
  show(<OutputAlarm />);
  for (const ms of [100, 3000, 3000]) {
    await pass(ms);
    expect(screen.getByRole('alert').textContent).toContain('Switch off the van’s supply');
  }
});
