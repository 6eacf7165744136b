import { fireEvent, screen, waitFor } from '@testing-library/react';
import { typeRun } from '@/features/job/actions';
import { Story } from '@/features/job/story';
import { UnderWayProvider } from '@/ui/kit/under-way';
import type { JobView } from '@/features/job/view';
import { kept, refused, show } from '@/testing/show';
import { postFile, type Uploaded } from '@/ui/upload';
import { AddRun } from './add-run';

jest.mock('@/features/job/actions', () => ({ typeRun: jest.fn() }));
jest.mock('@/ui/upload', () => ({ postFile: jest.fn() }));
const [push, refresh] = [jest.fn(), jest.fn()];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push, refresh }) }));

const view = { job: { id: 7 }, chosen: null, actions: [{ key: 'a1', words: 'Coil removed' }] } as unknown as JobView;
const post = postFile as unknown as jest.Mock;
const answer = (value: Uploaded<string>, cancel = jest.fn()) => ({ promise: Promise.resolve(value), cancel });
const log = (name: string): File => new File(['t,i\n0,1\n'], name, { type: 'text/csv' });
const open = (files: File[] = []) => show(<AddRun view={view} open files={files} onClose={close} />);
const close = jest.fn();
/** What the last log was sent with. */
const sent = (): { name: string; setup: Record<string, unknown>; mapping: Record<string, unknown> | null } => {
  const query = new URL(post.mock.calls.at(-1)[0], 'http://x').searchParams;
  const mapping = query.get('mapping');
  return {
    name: query.get('name') ?? '',
    setup: JSON.parse(query.get('setup') ?? ''),
    mapping: mapping && JSON.parse(mapping),
  };
};

beforeEach(() => {
  jest.clearAllMocks();
  window.history.pushState(null, '', '/jobs/7');
});

describe('typed readings', () => {
  const line = (): HTMLElement => screen.getByRole('textbox', { name: /^Readings/ });

  test('stand in the story until they are kept, and come back as they were typed where they are refused', async () => {
    let answer: (result: ReturnType<typeof refused>) => void = () => undefined;
    jest.mocked(typeRun).mockReturnValue(new Promise((resolve) => (answer = resolve)));
    const empty = { ...view, story: [], unnamed: [], pictures: [], chosen: null, actions: [], runs: [] } as JobView;
    const { person } = show(
      <UnderWayProvider>
        <AddRun view={view} open files={[]} onClose={close} />
        <Story view={empty} />
      </UnderWayProvider>,
    );
    await person.type(line(), 'battery 4V: 0 | prompt 0.1 holt');
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    expect((await screen.findByRole('listitem')).textContent).toBe('battery 4V: 0 | prompt 0.1 holtsaving …');
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    answer(refused('Readings, column 28: "holt" is not known'));
    expect((await screen.findByRole('alert')).textContent).toContain('"holt" is not known');
    expect(line()).toHaveProperty('value', 'battery 4V: 0 | prompt 0.1 holt');
    expect(screen.queryByText('saving …')).toBeNull();
    expect(close).not.toHaveBeenCalled();
  });
  test('whoever went on to another page meanwhile stays there, and reads there what was refused', async () => {
    let answer: (result: ReturnType<typeof refused>) => void = () => undefined;
    jest.mocked(typeRun).mockReturnValue(new Promise((resolve) => (answer = resolve)));
    const { person, rerender } = open();
    await person.type(line(), 'battery 4V: 0');
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    rerender(<p>another page</p>);
    answer(refused('The job is closed.'));
    expect((await screen.findByRole('alert')).textContent).toContain('battery 4V: 0: The job is closed.');
    expect(push).not.toHaveBeenCalled();
  });
  test('become a run, which is opened; the newest change is left to the server', async () => {
    jest.mocked(typeRun).mockResolvedValue(kept('r3'));
    const { person } = open();
    await person.type(line(), 'battery 4V: 0 | prompt 0.1');
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/7?run=r3', { scroll: false }));
    const entry = { jobId: 7, line: 'battery 4V: 0 | prompt 0.1', after: undefined, confirmed: false };
    expect(typeRun).toHaveBeenCalledWith(entry);
    expect(close).toHaveBeenCalled();
  });

  test('what is wrong stands under its place, and goes when the line is changed', async () => {
    jest.mocked(typeRun).mockResolvedValue(refused('column 9: expected a voltage'));
    const { person } = open();
    await person.type(line(), 'battery four');
    await person.selectOptions(screen.getByLabelText('Follows'), 'no change made');
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    const alert = await screen.findByRole('alert');
    expect(alert.querySelector('pre')?.textContent).toBe('battery four\n        ^');
    expect(typeRun).toHaveBeenCalledWith(expect.objectContaining({ after: null }));
    expect(line()).toHaveProperty('value', 'battery four');
    await person.type(line(), ' V');
    expect(screen.queryByRole('alert')).toBeNull();
    expect(close).not.toHaveBeenCalled();
  });

  test('an example fills the line, and an empty line is not sent', async () => {
    const { person } = open();
    expect(screen.getByRole('button', { name: 'Add run' }).getAttribute('aria-disabled')).toBe('true');
    await person.click(screen.getByRole('button', { name: /^usb-c port 1/ }));
    expect(line()).toHaveProperty('value', 'usb-c port 1: 5V 0.055 hold');
  });
});

describe('log files', () => {
  /** Below the logs; the dialog has one in its corner too. */
  const foot = (): HTMLElement => screen.getAllByRole('button', { name: 'Close' }).at(0) as HTMLElement;

  test('go with the setup, each with its own end; the last that was added is opened', async () => {
    post.mockReturnValueOnce(answer({ ok: true, value: 'r1' }));
    post.mockReturnValueOnce(answer({ ok: false, kind: 'input', message: 'b.csv: this is not a log' }));
    const { person } = open([log('a.csv'), log('b.csv')]);
    await person.type(screen.getByLabelText('Set voltage'), '4 V');
    await person.type(screen.getByLabelText(/^Unplugged/), 'camera, tray ');
    await person.click(screen.getByRole('button', { name: 'Add 2 runs' }));
    expect(await screen.findByText('added as r1')).toBeTruthy();
    expect((await screen.findByRole('alert')).textContent).toBe('b.csv: this is not a log');
    expect(sent().name).toBe('b.csv');
    expect(sent().setup).toMatchObject({ feed: 'battery', setV: '4 V', unplugged: ['camera', 'tray'] });
    // Left out: whatever is the newest change when it is stored.
    expect(sent().setup).not.toHaveProperty('after');
    await person.click(foot());
    expect(push).toHaveBeenCalledWith('/jobs/7?run=r1', { scroll: false });
  });

  test('another feed takes nothing of the last one along; a port is a whole number', async () => {
    post.mockReturnValue(answer({ ok: true, value: 'r1' }));
    const { person } = open([log('a.csv')]);
    await person.type(screen.getByLabelText('Limit'), '3 A');
    await person.selectOptions(screen.getByLabelText('Feed'), 'usb-c');
    await person.type(screen.getByLabelText('Port'), 'x2y');
    expect(screen.getByLabelText('Port')).toHaveProperty('value', '2');
    await person.selectOptions(screen.getByLabelText('Plug'), 'flipped');
    await person.selectOptions(screen.getByLabelText('Contract'), 'contract agreed');
    await person.type(screen.getByLabelText('Contract voltage'), '20 V');
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    await screen.findByText('added as r1');
    expect(sent().setup).toMatchObject({
      feed: 'usb-c',
      limitA: '',
      port: 2,
      flipped: true,
      contract: 'pd',
      contractV: '20 V',
    });
  });

  test('where the reader is unsure the columns are asked for, and the same log is sent with the answer', async () => {
    const header = ['when', 'a', 'b'];
    const unsure = { ok: false, kind: 'unsure', message: 'Two columns could be the current', header } as const;
    post.mockReturnValueOnce(answer({ ...unsure, sample: [['0', '0.1', '4']] }));
    post.mockReturnValueOnce(answer({ ok: true, value: 'r1' }));
    const { person } = open([log('a.csv')]);
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    expect(await screen.findByText('Two columns could be the current.')).toBeTruthy();
    const read = screen.getByRole('button', { name: 'Read with these columns' });
    expect(read.getAttribute('aria-disabled')).toBe('true');
    await person.selectOptions(screen.getByLabelText('Current'), 'a');
    await person.selectOptions(screen.getByLabelText('Current in'), 'mA');
    // Without a column of times the rate is asked for, and may have a fraction.
    await person.type(screen.getByLabelText('Readings per second'), 'often');
    expect(screen.getByRole('alert').textContent).toBe('Readings per second: expected a number above 0, such as 20.');
    expect(read.getAttribute('aria-disabled')).toBe('true');
    await person.clear(screen.getByLabelText('Readings per second'));
    await person.type(screen.getByLabelText('Readings per second'), '12,5');
    await person.click(read);
    await screen.findByText('added as r1');
    expect(sent().mapping).toMatchObject({ time: null, rateHz: 12.5, current: 1, currentUnit: 'mA', voltage: null });
  });

  test('a log that takes long can be cancelled', async () => {
    let end: (value: Uploaded<string>) => void = () => undefined;
    const cancel = jest.fn(() => end({ ok: false, kind: 'cancelled', message: 'Cancelled. Nothing was saved.' }));
    post.mockImplementation((_url, _file, onProgress: (share: number) => void) => {
      onProgress(0.4);
      return { promise: new Promise((resolve) => (end = resolve)), cancel };
    });
    const { person } = open([log('long.csv')]);
    await person.click(screen.getByRole('button', { name: 'Add run' }));
    expect(await screen.findByText('reading, 40 %')).toBeTruthy();
    expect(foot()).toHaveProperty('disabled', true);
    await person.click(screen.getByRole('button', { name: 'Cancel' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Cancelled. Nothing was saved.');
    expect(cancel).toHaveBeenCalled();
    await person.click(foot());
    expect(push).not.toHaveBeenCalled();
  });

  test('files are chosen one after the other', () => {
    open([log('a.csv')]);
    fireEvent.change(screen.getByLabelText('Log files', { selector: 'input' }), { target: { files: [log('b.csv')] } });
    expect(screen.getByRole('button', { name: 'a.csv, b.csv' })).toBeTruthy();
    expect(screen.getByText(/This applies to all of these/)).toBeTruthy();
  });
});
