import { screen } from '@testing-library/react';
import { useState } from 'react';
import { show } from '@/testing/show';
import { meantKey, type KeyMode } from './key-mode';
import { useKey } from './keys';
import { usePreference } from './preference';

const acted = jest.fn();
beforeEach(() => acted.mockReset());

function Bound({ name = 'first' }: { name?: string }) {
  useKey('p', 'press power', () => acted(name));
  return <input aria-label="Note" />;
}

test('a key acts, and is a letter while somebody types', async () => {
  const { person } = show(<Bound />);
  await person.keyboard('p');
  expect(acted).toHaveBeenCalledTimes(1);
  await person.type(screen.getByRole('textbox'), 'p');
  expect(acted).toHaveBeenCalledTimes(1);
  expect(screen.getByRole('textbox')).toHaveProperty('value', 'p');
});

test('a box that is ticked takes no letters: a key acts though it has the focus', async () => {
  const { person } = show(
    <>
      <Bound />
      <input type="checkbox" aria-label="Keep" />
    </>,
  );
  await person.click(screen.getByRole('checkbox'));
  await person.keyboard('p');
  expect(acted).toHaveBeenCalledTimes(1);
});

test('with Ctrl, Alt or Meta a key is the browser’s', async () => {
  const { person } = show(<Bound />);
  for (const held of ['Control', 'Alt', 'Meta']) await person.keyboard(`{${held}>}p{/${held}}`);
  expect(acted).not.toHaveBeenCalled();
});

describe('letters that act alone, with Alt, or not at all', () => {
  const choose = async (mode: string) => {
    localStorage.setItem('umbral-keys-nobody', mode);
    const { person } = show(<Bound />);
    await person.keyboard('p');
    const alone = acted.mock.calls.length;
    await person.keyboard('{Alt>}p{/Alt}');
    return { alone, withAlt: acted.mock.calls.length - alone };
  };
  test('by itself', async () => expect(await choose('alone')).toEqual({ alone: 1, withAlt: 0 }));
  test('with Alt held', async () => expect(await choose('alt')).toEqual({ alone: 0, withAlt: 1 }));
  test('not at all', async () => expect(await choose('off')).toEqual({ alone: 0, withAlt: 0 }));

  test('what is not known is as usual', async () => expect(await choose('perhaps')).toEqual({ alone: 1, withAlt: 0 }));

  test.each<[KeyMode, string | null]>([
    ['alone', 'ArrowDown'],
    ['alt', 'ArrowDown'],
    ['off', 'ArrowDown'],
  ])('a key that types nothing acts in every mode: %s', (mode, meant) =>
    expect(meantKey({ key: 'ArrowDown', code: 'ArrowDown', altKey: false }, mode)).toBe(meant),
  );

  test('where Alt makes another sign of a letter, the letter is meant', () =>
    expect(meantKey({ key: 'π', code: 'KeyP', altKey: true }, 'alt')).toBe('p'));

  test('is chosen in the list of keys', async () => {
    const { person } = show(<Bound />);
    await person.keyboard('?');
    await person.click(await screen.findByRole('radio', { name: 'off' }));
    await person.keyboard('{Escape}');
    await person.keyboard('p');
    expect(acted).not.toHaveBeenCalled();
  });
});

test('nothing behind a dialog acts', async () => {
  const { person } = show(
    <>
      <Bound />
      <div role="dialog">over the work</div>
    </>,
  );
  await person.keyboard('p');
  expect(acted).not.toHaveBeenCalled();
});

test('the part that was shown last has the key, and gives it back when it goes', async () => {
  function Two() {
    const [both, setBoth] = useState(true);
    return (
      <>
        <Bound />
        {both && <Bound name="second" />}
        <button type="button" onClick={() => setBoth(false)}>
          one less
        </button>
      </>
    );
  }
  const { person } = show(<Two />);
  await person.keyboard('p');
  await person.click(screen.getByRole('button'));
  await person.keyboard('p');
  expect(acted.mock.calls).toEqual([['second'], ['first']]);
});

describe('what a browser keeps for itself', () => {
  function Kept({ id }: { id: string }) {
    const [order, setOrder] = usePreference('order', 'plan');
    return (
      <button type="button" aria-label={id} onClick={() => setOrder('list')}>
        {order}
      </button>
    );
  }

  test('is the same in every part of the page, and there again after a reload', async () => {
    const parts = (
      <>
        <Kept id="a" />
        <Kept id="b" />
      </>
    );
    const { person, unmount } = show(parts);
    expect(screen.getByRole('button', { name: 'b' }).textContent).toBe('plan');
    await person.click(screen.getByRole('button', { name: 'a' }));
    expect(screen.getByRole('button', { name: 'b' }).textContent).toBe('list');
    unmount();
    show(parts);
    expect(screen.getByRole('button', { name: 'a' }).textContent).toBe('list');
  });

  test('a browser that keeps nothing goes on with the usual', async () => {
    const refuses = jest.spyOn(Storage.prototype, 'setItem').mockImplementation(() => {
      throw new Error('not here');
    });
    const { person } = show(<Kept id="a" />);
    await person.click(screen.getByRole('button'));
    expect(screen.getByRole('button').textContent).toBe('plan');
    refuses.mockRestore();
  });
});
