import { screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { show } from '@/testing/show';
import { AreaField, SelectField, TextField } from './fields';

function Form() {
  const [value, setValue] = useState('');
  const [kind, setKind] = useState('a');
  return (
    <>
      <TextField label="Fee" hint="euros" className="w-20" inputMode="decimal" value={value} onValue={setValue} />
      <AreaField label="Note" value={value} onValue={setValue} />
      <SelectField label="Kind" value={kind} onValue={setKind}>
        <option value="a">phone</option>
        <option value="b">tablet</option>
      </SelectField>
    </>
  );
}

test('a field is found by its label, says its hint, and gives what was typed or chosen', async () => {
  show(<Form />);
  const fee = screen.getByLabelText<HTMLInputElement>('Fee');
  expect(fee.className).toBe('field w-20');
  expect(document.getElementById(fee.getAttribute('aria-describedby') ?? '')?.textContent).toContain('euros');
  await userEvent.type(fee, '42');
  expect(fee.value).toBe('42');
  expect(screen.getByLabelText<HTMLTextAreaElement>('Note').value).toBe('42');
  const kind = screen.getByLabelText<HTMLSelectElement>('Kind');
  await userEvent.selectOptions(kind, 'tablet');
  expect(kind.value).toBe('b');
});
