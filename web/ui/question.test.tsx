import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { useSave } from './kit/use-save';
import { QuestionProvider } from './question';

afterEach(cleanup);

type Answer = { ok: true; value: string } | { ok: false; kind: string; message: string };

function Form({ work, done }: { work: (confirmed: boolean) => Promise<Answer>; done: (value: string) => void }) {
  const { save } = useSave();
  return (
    <button type="button" onClick={() => save(work, { then: done })}>
      Save
    </button>
  );
}

const odd = { ok: false as const, kind: 'asked', message: 'Set to 3.85 V, but 9.00 V was measured.' };

function form() {
  const work = jest.fn<Promise<Answer>, [boolean]>((confirmed) =>
    Promise.resolve(confirmed ? { ok: true as const, value: 'r1' } : odd),
  );
  const done = jest.fn();
  render(
    <QuestionProvider>
      <Form work={work} done={done} />
    </QuestionProvider>,
  );
  fireEvent.click(screen.getByText('Save'));
  return { work, done };
}

test('what is odd is asked with both values, and kept once it was said to be so', async () => {
  const { work, done } = form();
  await screen.findByText(odd.message);
  expect(done).not.toHaveBeenCalled();
  fireEvent.click(screen.getByText('Save it as it is'));
  await waitFor(() => expect(done).toHaveBeenCalledWith('r1'));
  expect(work.mock.calls.map(([confirmed]) => confirmed)).toEqual([false, true]);
});

test('whoever goes back has saved nothing', async () => {
  const { work, done } = form();
  fireEvent.click(await screen.findByText('Go back and correct it'));
  await waitFor(() => expect(screen.queryByText(odd.message)).toBeNull());
  expect(work).toHaveBeenCalledTimes(1);
  expect(done).not.toHaveBeenCalled();
});
