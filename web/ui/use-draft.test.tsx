import { fireEvent, screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '@/testing/show';
import { Dialog } from './dialog';

beforeEach(() => {
  sessionStorage.clear();
  history.pushState({}, '', '/jobs/7');
});

const frames = (n: number): Promise<void> =>
  n === 0 ? Promise.resolve() : new Promise((resolve) => requestAnimationFrame(() => void frames(n - 1).then(resolve)));

function Entry({ title = 'Add a check', isFresh = false, onSent = () => undefined as void }) {
  const [kind, setKind] = useState('');
  const [note, setNote] = useState('');
  const [secret, setSecret] = useState('');
  const [isDonor, setDonor] = useState(false);
  return (
    <Dialog open title={title} isFresh={isFresh} onClose={() => undefined}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          onSent();
        }}
      >
        <select aria-label="Kind" value={kind} onChange={(e) => setKind(e.target.value)}>
          <option value="">none</option>
          <option value="other">other</option>
        </select>
        {/* Shows only after the first is chosen. */}
        {kind === 'other' && <input aria-label="Note" value={note} onChange={(e) => setNote(e.target.value)} />}
        <input aria-label="Donor" type="checkbox" checked={isDonor} onChange={(e) => setDonor(e.target.checked)} />
        <input aria-label="PIN" type="password" value={secret} onChange={(e) => setSecret(e.target.value)} />
        <output data-testid="held">{JSON.stringify({ kind, note, isDonor, secret })}</output>
        <button type="submit">Save</button>
      </form>
    </Dialog>
  );
}
const type = (): void => {
  fireEvent.change(screen.getByLabelText('Kind'), { target: { value: 'other' } });
  fireEvent.change(screen.getByLabelText('Note'), { target: { value: 'smells of wine' } });
  fireEvent.click(screen.getByLabelText('Donor'));
  fireEvent.change(screen.getByLabelText('PIN'), { target: { value: '4711' } });
};
const held = (): object => JSON.parse(screen.getByTestId('held').textContent ?? '{}') as object;
const nothing = { kind: '', note: '', isDonor: false, secret: '' };
/** As a reload: the window's storage stays, and nothing is told that the page goes. */
const reload = async (work: () => void): Promise<Record<string, string>> => {
  work();
  await frames(2);
  return { ...sessionStorage } as Record<string, string>;
};

test('what was typed is back after a reload, also in fields that show later; what is secret is not', async () => {
  const { unmount } = show(<Entry />);
  const stored = await reload(type);
  unmount();
  for (const [key, value] of Object.entries(stored)) sessionStorage.setItem(key, value);
  show(<Entry />);
  await frames(6);
  expect(held()).toEqual({ kind: 'other', note: 'smells of wine', isDonor: true, secret: '' });
  expect(screen.getByText(/What you typed here earlier has been restored/)).toBeTruthy();
});

test('it stays where another page takes its place, and goes with the dialog that is closed or sent', async () => {
  const first = show(<Entry />);
  type();
  history.pushState({}, '', '/');
  first.unmount();
  history.pushState({}, '', '/jobs/7');
  const second = show(<Entry />);
  await frames(6);
  expect(held()).toMatchObject({ note: 'smells of wine' });
  second.unmount();
  const third = show(<Entry />);
  await frames(3);
  expect(held()).toEqual(nothing);
  type();
  fireEvent.click(screen.getByRole('button', { name: 'Save' }));
  history.pushState({}, '', '/elsewhere');
  third.unmount();
  history.pushState({}, '', '/jobs/7');
  show(<Entry />);
  await frames(3);
  expect(held()).toEqual(nothing);
});

test('another dialog, page and person have drafts of their own; what must be asked anew keeps none', async () => {
  const { unmount } = show(<Entry />);
  type();
  history.pushState({}, '', '/jobs/8');
  unmount();
  const other = show(<Entry />);
  await frames(3);
  expect(held()).toEqual(nothing);
  other.unmount();
  const fresh = show(<Entry isFresh title="Before the output is armed" />);
  type();
  history.pushState({}, '', '/');
  fresh.unmount();
  expect(Object.keys(sessionStorage).some((key) => key.includes('armed'))).toBe(false);
  document.documentElement.dataset.person = '2';
  history.pushState({}, '', '/jobs/7');
  show(<Entry />);
  await frames(3);
  expect(held()).toEqual(nothing);
  delete document.documentElement.dataset.person;
});
