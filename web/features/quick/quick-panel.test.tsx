import { screen, waitFor } from '@testing-library/react';
import { createRef } from 'react';
import { lookUp } from '@/features/notebook/actions';
import { kept, refused, show } from '@/testing/show';
import { search } from '@/features/search/actions';
import { postFile } from '@/ui/upload';
import { keepTyped, newJobForLog, quickRead } from './actions';
import { QuickPanel } from './quick-panel';
import type { QuickAnswer } from './read';
import type { QuickSource } from './source';

jest.mock('./actions', () => ({ quickRead: jest.fn(), keepTyped: jest.fn(), newJobForLog: jest.fn() }));
jest.mock('@/features/notebook/actions', () => ({ lookUp: jest.fn() }));
jest.mock('@/features/notebook/lines', () => ({ NotebookLines: () => <p>met before</p> }));
jest.mock('@/features/search/actions', () => ({ search: jest.fn() }));
jest.mock('@/ui/upload', () => ({ postFile: jest.fn() }));
const [push, refresh] = [jest.fn(), jest.fn()];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push, refresh }) }));

const answer = (pattern: string): QuickAnswer => ({
  pattern,
  patternP: 0.8,
  or: null,
  silhouette: '',
  segments: [],
  suspects: [{ name: 'Storage', p: 0.6, because: '' }],
  next: 'Feel for heat',
  notes: [],
});
const read = quickRead as jest.MockedFunction<typeof quickRead>;
const post = postFile as unknown as jest.Mock;
const typed: QuickSource = { kind: 'typed', line: 'battery 4V: 0 | prompt 0.1 hold' };
const log: QuickSource = { kind: 'log', file: new File(['0,1'], 'found.csv') };
const [close, keptAs] = [jest.fn(), jest.fn()];
const open = (source: QuickSource) =>
  show(
    <>
      <p>elsewhere</p>
      <QuickPanel source={source} box={createRef<HTMLDivElement>()} onClose={close} onKept={keptAs} />
    </>,
  );

beforeEach(() => {
  jest.clearAllMocks();
  jest.mocked(lookUp).mockResolvedValue(kept([]));
  read.mockResolvedValue(kept(answer('Stalls early')));
  jest.mocked(search).mockResolvedValue(kept({ groups: [], spelt: [] }));
});

test('a line is answered with pattern, suspects and the next test, and becomes a job when it is kept', async () => {
  jest.mocked(keepTyped).mockResolvedValue(kept(12));
  const { person } = open(typed);
  expect(await screen.findByRole('heading', { name: 'Stalls early' })).toBeTruthy();
  expect(screen.getByRole('list', { name: 'Suspects' }).textContent).toBe('Storage60 %');
  expect(screen.getByText('Feel for heat')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Save as a job' }));
  await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/12'));
  expect(keepTyped).toHaveBeenCalledWith({ line: typed.line, deviceClass: 'phone' });
  expect(keptAs).toHaveBeenCalled();
});

test('the kind of device is remembered; the answer to an older question does not cover a newer one', async () => {
  let late: (value: Awaited<ReturnType<typeof quickRead>>) => void = () => undefined;
  read.mockReturnValueOnce(new Promise((resolve) => (late = resolve)));
  read.mockResolvedValueOnce(kept(answer('As a laptop')));
  const { person } = open(typed);
  await person.selectOptions(screen.getByLabelText('Kind of device'), 'laptop');
  expect(await screen.findByRole('heading', { name: 'As a laptop' })).toBeTruthy();
  late(kept(answer('As a phone')));
  await waitFor(() => expect(screen.queryByText('Reading …')).toBeNull());
  expect(screen.getByRole('heading', { name: 'As a laptop' })).toBeTruthy();
  expect(localStorage.getItem('umbral-quick-class')).toBe('laptop');
});

test('what is wrong with a line is said, and there is nothing to keep', async () => {
  read.mockResolvedValue(refused('column 3: expected a feed'));
  open(typed);
  expect((await screen.findByRole('alert')).textContent).toBe('column 3: expected a feed');
  expect(screen.queryByRole('button', { name: 'Save as a job' })).toBeNull();
});

test('a server that is away is said', async () => {
  read.mockRejectedValue(new Error('fetch failed'));
  open(typed);
  expect((await screen.findByRole('alert')).textContent).toBe('The server could not be reached.');
});

test('lines of the notebook stand above; a press elsewhere closes', async () => {
  jest.mocked(lookUp).mockResolvedValue(kept([{ id: 1 }] as never));
  const box = { current: document.createElement('div') };
  const { person } = show(
    <>
      <p>elsewhere</p>
      <QuickPanel source={typed} box={box} onClose={close} onKept={keptAs} />
    </>,
  );
  expect(await screen.findByText('met before')).toBeTruthy();
  await person.click(screen.getByText('elsewhere'));
  expect(close).toHaveBeenCalled();
});

describe('a log', () => {
  beforeEach(() => jest.mocked(newJobForLog).mockResolvedValue(kept(15)));
  const reads = (): void =>
    void post.mockReturnValueOnce({ promise: Promise.resolve({ ok: true, value: answer('Loops') }) });

  test('is read for its feed, and goes to the job that is made for it', async () => {
    reads();
    reads();
    const { person } = open(log);
    await screen.findByRole('heading', { name: 'Loops' });
    await person.selectOptions(screen.getByLabelText('Feed'), 'usb-c');
    await waitFor(() => expect(post.mock.calls[1]?.[0]).toContain('feed=usb-c'));
    post.mockReturnValueOnce({ promise: Promise.resolve({ ok: true, value: 'r1' }) });
    await person.click(await screen.findByRole('button', { name: 'Save as a job' }));
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/15'));
    expect(post.mock.calls[2][0]).toContain('/api/jobs/15/runs?name=found.csv');
    expect(screen.queryByText(/kept without its log/)).toBeNull();
  });

  test('that is refused when it is kept is not lost in silence', async () => {
    reads();
    const { person } = open(log);
    await screen.findByRole('heading', { name: 'Loops' });
    const refusal = { ok: false, kind: 'unsure', message: 'found.csv: which column is the current?' };
    post.mockReturnValueOnce({ promise: Promise.resolve(refusal) });
    await person.click(screen.getByRole('button', { name: 'Save as a job' }));
    expect(await screen.findByText(/saved without its log: found.csv: which column is the current/)).toBeTruthy();
    expect(push).toHaveBeenCalledWith('/jobs/15');
  });
});

test('words are looked for; what is no reading says so only where nothing was found', async () => {
  read.mockResolvedValue(refused('no reading'));
  jest.mocked(search).mockResolvedValue(
    kept({
      groups: [
        { name: 'Jobs', hits: [{ name: '0007 reading room', detail: 'Moorcall, open', href: '/jobs/7' }], all: null },
      ],
      spelt: [{ word: 'morcall', as: 'moorcall' }],
    }),
  );
  const { unmount } = open({ kind: 'typed', line: 'morcall' });
  expect((await screen.findByRole('link', { name: /0007 reading room/ })).getAttribute('href')).toBe('/jobs/7');
  expect(screen.getByText(/Shown for “moorcall”/)).toBeTruthy();
  expect(screen.queryByRole('alert')).toBeNull();
  unmount();
  jest.mocked(search).mockResolvedValue(kept({ groups: [], spelt: [] }));
  open({ kind: 'typed', line: 'zzyzx' });
  expect((await screen.findByRole('alert')).textContent).toMatch(/^Nothing found for “zzyzx”/);
});
