import { withRequestKeys } from './request-key';

const keysOf = (sent: jest.Mock): (string | null)[] =>
  sent.mock.calls.map(([, init]: [string, RequestInit]) => new Headers(init.headers).get('x-umbral-request'));
const post = (body: string, action = 'a') => ({ method: 'POST', body, headers: { 'next-action': action } });

test('every change has a key of its own; one whose answer was lost keeps it when it is sent again', async () => {
  const sent = jest.fn().mockResolvedValue({ ok: true } as Response);
  const send = withRequestKeys(sent);
  await send('/jobs/1', post('[1]'));
  await send('/jobs/1', post('[1]'));
  sent.mockRejectedValueOnce(new TypeError('network'));
  await expect(send('/jobs/1', post('[2]'))).rejects.toThrow('network');
  await send('/jobs/1', post('[3]'));
  await send('/jobs/1', post('[2]', 'b'));
  await send('/jobs/1', post('[2]'));
  await send('/jobs/1', post('[2]'));
  const [one, two, lost, three, other, again, later] = keysOf(sent);
  expect(again).toBe(lost);
  expect(new Set([one, two, lost, three, other, later]).size).toBe(6);
});

test('two clicks at once are one change', async () => {
  const sent = jest.fn().mockResolvedValue({ ok: true } as Response);
  const send = withRequestKeys(sent);
  await Promise.all([send('/jobs/1', post('[1]')), send('/jobs/1', post('[1]')), send('/jobs/1', post('[2]'))]);
  const [first, second, other] = keysOf(sent);
  expect(second).toBe(first);
  expect(other).not.toBe(first);
});

test('what only reads has none, and the rest of a request stays as it is', async () => {
  const sent = jest.fn().mockResolvedValue({ ok: true } as Response);
  const send = withRequestKeys(sent);
  await send('/api/sheet', { cache: 'no-store' });
  await send('/jobs/1', post('[1]'));
  expect(sent.mock.calls[0][1]).toEqual({ cache: 'no-store' });
  expect(new Headers((sent.mock.calls[1] as [string, RequestInit])[1].headers).get('next-action')).toBe('a');
});
