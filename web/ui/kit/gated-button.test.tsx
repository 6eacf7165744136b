import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { GatedButton } from './gated-button';

const send = jest.fn();
const shown = (blocked: string | null) => (
  <form
    onSubmit={(e) => {
      e.preventDefault();
      send();
    }}
  >
    <input aria-label="Name" />
    <GatedButton type="submit" blocked={blocked}>
      Save
    </GatedButton>
  </form>
);

test('a blocked button is reached, says why, and sends nothing; then it does what it says', async () => {
  const person = userEvent.setup();
  const { rerender } = render(shown('Enter a name first'));
  await person.tab();
  await person.tab();
  const button = screen.getByRole('button', { name: 'Save', description: 'Enter a name first' });
  expect(document.activeElement).toBe(button);
  await person.click(button);
  await person.type(screen.getByLabelText('Name'), '{Enter}');
  expect(send).not.toHaveBeenCalled();
  rerender(shown(null));
  await person.click(screen.getByRole('button', { name: 'Save' }));
  expect(send).toHaveBeenCalledTimes(1);
  expect(screen.queryByRole('tooltip')).toBeNull();
});
