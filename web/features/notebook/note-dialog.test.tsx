import { screen, waitFor } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { saveNote, saveNotebookLine } from './actions';
import { NotebookLines } from './lines';
import { emptyNote, NoteDialog } from './note-dialog';
import type { LineView } from './view';

jest.mock('./actions', () => ({ saveNote: jest.fn(), saveNotebookLine: jest.fn() }));
const save = saveNote as jest.Mock;
const take = saveNotebookLine as jest.Mock;
const typed = { ...emptyNote, model: 'Pennywren', amps: '0.18 A', circuit: 'pmic' };

beforeEach(() => {
  save.mockReset().mockResolvedValue(kept(4));
  take.mockReset().mockResolvedValue(kept(undefined));
});

test('a line goes as it was typed, a feed that nobody said as none', async () => {
  const onClose = jest.fn();
  const { person } = show(<NoteDialog note={typed} models={[]} onClose={onClose} />);
  await person.clear(screen.getByLabelText('Times seen'));
  await person.type(screen.getByLabelText('Times seen'), '5{Enter}');
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(save).toHaveBeenCalledWith(
    expect.objectContaining({ model: 'Pennywren', amps: '0.18 A', of: '5', feed: null }),
  );
});

test('what is refused says why, and nothing that was typed is lost', async () => {
  save.mockResolvedValue(refused('Of: expected a number'));
  const onClose = jest.fn();
  const { person } = show(<NoteDialog note={typed} models={[]} onClose={onClose} />);
  await person.type(screen.getByLabelText('Times seen'), 'x');
  await person.click(screen.getByRole('button', { name: 'Save line' }));
  expect(await screen.findByText('Of: expected a number')).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>('Times seen').value).toBe('1x');
  expect(screen.getByLabelText<HTMLInputElement>('Level', { exact: false }).value).toBe('0.18 A');
  expect(onClose).not.toHaveBeenCalled();
});

test('only a line that is there can be taken out, and that can be undone', async () => {
  const onClose = jest.fn();
  const { person, unmount } = show(<NoteDialog note={{ ...typed, id: 9 }} models={[]} onClose={onClose} />);
  await person.click(screen.getByRole('button', { name: 'Delete' }));
  await waitFor(() => expect(onClose).toHaveBeenCalled());
  expect(take).toHaveBeenCalledWith(9, true);
  await person.click(await screen.findByRole('button', { name: /Undo/ }));
  expect(take).toHaveBeenLastCalledWith(9, false);
  unmount();
  show(<NoteDialog note={typed} models={[]} onClose={jest.fn()} />);
  expect(screen.queryByRole('button', { name: 'Delete' })).toBeNull();
});

const line: LineView = {
  key: '0',
  model: 'Pennywren',
  deviceClass: 'handheld',
  level: '180 mA',
  setup: 'battery feed, 4 V',
  causes: ['PMIC', 'Display', 'Radio', 'Memory', 'Storage'].map((circuit) => ({
    circuit,
    elements: '',
    says: '1 of 5',
  })),
  last: '2026-03-01',
  who: 'bench',
  origin: 'Hill bench',
  jobs: [7, 8],
  note: 3,
};

test('a line says whose it is, opens its jobs, and can be corrected where it was typed here', async () => {
  const onCorrect = jest.fn();
  const { person } = show(<NotebookLines lines={[line]} onCorrect={onCorrect} />);
  expect(screen.getByText(/from Hill bench/)).toBeTruthy();
  expect(screen.getByRole('link', { name: '0007' }).getAttribute('href')).toBe('/jobs/7');
  expect(screen.getByText('and one other')).toBeTruthy();
  await person.click(screen.getByRole('button', { name: 'Edit this line' }));
  expect(onCorrect).toHaveBeenCalledWith(3);
});

test('where nothing is corrected there is no button for it', () => {
  show(<NotebookLines lines={[line]} />);
  expect(screen.queryByRole('button')).toBeNull();
});
