import { fireEvent, screen, waitFor } from '@testing-library/react';
import { show } from '@/testing/show';
import { postFile } from '@/ui/upload';
import { ImportButton, SampleButton } from './import-button';

jest.mock('@/ui/upload', () => ({ postFile: jest.fn() }));
const [push, refresh] = [jest.fn(), jest.fn()];
jest.mock('next/navigation', () => ({ useRouter: () => ({ push, refresh }) }));

const post = postFile as unknown as jest.Mock;
const choose = (name: string): boolean =>
  fireEvent.change(screen.getByLabelText('Case package'), { target: { files: [new File(['PK'], name)] } });

beforeEach(() => jest.clearAllMocks());

test('a package becomes a job, which is opened', async () => {
  let imported: (value: object) => void = () => undefined;
  post.mockReturnValue({ promise: new Promise((resolve) => (imported = resolve)) });
  show(<ImportButton>Import a case</ImportButton>);
  choose('a unit & more.zip');
  // One after the other.
  expect(await screen.findByRole('button', { name: 'Importing …' })).toHaveProperty('disabled', true);
  expect(post.mock.calls[0][0]).toBe('/api/packages?name=a%20unit%20%26%20more.zip');
  imported({ ok: true, value: 41 });
  await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/41'));
  expect(screen.getByText('a unit & more.zip was imported.')).toBeTruthy();
});

test('one that is refused is told with file and place, and the next can be taken', async () => {
  post.mockReturnValue({
    promise: Promise.resolve({ ok: false, message: 'bad.zip: case.json, runs[0].feed: unknown' }),
  });
  show(<ImportButton>Import a case</ImportButton>);
  choose('bad.zip');
  expect(await screen.findByText('bad.zip: case.json, runs[0].feed: unknown')).toBeTruthy();
  expect(screen.getByRole('button', { name: 'Import a case' })).toHaveProperty('disabled', false);
  expect(push).not.toHaveBeenCalled();
});

describe('the sample fleet', () => {
  const answers = jest.fn<Promise<{ ok: boolean }>, [string, object]>();
  beforeEach(() => Object.assign(globalThis, { fetch: answers }));
  afterEach(() => Reflect.deleteProperty(globalThis, 'fetch'));
  const load = async (): Promise<void> => {
    const { person } = show(<SampleButton />);
    await person.click(screen.getByRole('button', { name: 'Load the sample fleet' }));
  };

  test('is there when the page is drawn anew', async () => {
    answers.mockResolvedValue({ ok: true });
    await load();
    await waitFor(() => expect(refresh).toHaveBeenCalled());
    expect(answers).toHaveBeenCalledWith('/api/sample-data', { method: 'POST' });
  });

  test.each([
    ['a server that refuses', () => Promise.resolve({ ok: false })],
    ['a server that is away', () => Promise.reject(new TypeError('Failed to fetch'))],
  ])('%s is told, and it can be tried again', async (_, answer) => {
    answers.mockImplementation(answer);
    await load();
    expect(await screen.findByText('The sample data could not be loaded.')).toBeTruthy();
    expect(screen.getByRole('button', { name: 'Load the sample fleet' })).toHaveProperty('disabled', false);
    expect(refresh).not.toHaveBeenCalled();
  });
});
