import { screen, waitFor } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { ActionDialog } from './action-dialog';
import { addAction, addCheck, addReading, addSweep, editReading, namePlace, predictChangeOf } from './actions';
import { CheckDialog } from './check-dialog';
import { EditReading } from './edit-reading';
import { PlaceDialog } from './place-dialog';
import { ReadingDialog } from './reading-dialog';
import type { JobView } from './view';

jest.mock('./actions', () => ({
  addAction: jest.fn(),
  addCheck: jest.fn(),
  addReading: jest.fn(),
  addSweep: jest.fn(),
  editReading: jest.fn(),
  namePlace: jest.fn(),
  predictChangeOf: jest.fn(),
}));
jest.mock('@/features/waits/actions', () => ({
  loadUsualWaits: () =>
    Promise.resolve({ ok: true, value: { cool: 10, bath: 8, dry: 240, part: 4320, overnight: 900 } }),
}));
jest.mock('./dumps', () => ({ Dumps: () => null }));
jest.mock('@/features/measure/from-meter', () => ({ FromMeter: () => null }));
const view = {
  job: { id: 7 },
  actions: [{ key: 'a1', words: 'Coil removed' }],
  story: [],
  runs: [{ key: 'r1', title: 'r1: bench supply' }],
  elements: ['coil', 'buck'],
  halves: ['upper', 'lower'],
  dumps: [],
  dumpsSay: { says: '' },
} as unknown as JobView;

describe('readings', () => {
  const add = addReading as jest.Mock;
  const sweep = addSweep as jest.Mock;
  beforeEach(() => {
    add.mockReset().mockResolvedValue(kept({ kept: true, asks: [] }));
    sweep.mockReset().mockResolvedValue(kept({ kept: true, asks: [], points: 3, standsOut: ['coil3 stands out'] }));
  });
  const field = (name: RegExp): HTMLElement => screen.getByRole('textbox', { name });

  test('one after the other: what was typed goes, what was chosen stays', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    await person.selectOptions(screen.getByRole('combobox', { name: /^Mode/ }), 'resistance');
    await person.type(screen.getByRole('combobox', { name: /^Where/ }), 'coil');
    await person.type(field(/^Value/), '12');
    await person.type(field(/^Leads/), '0,2 ohm');
    await person.click(screen.getByRole('button', { name: 'Save and add another' }));
    await screen.findByText(/One reading saved/);
    expect(add).toHaveBeenCalledWith(
      expect.objectContaining({
        jobId: 7,
        where: 'coil',
        text: '12',
        mode: 'resistance',
        leadsOhm: 0.2,
        phase: '',
        // Whatever is newest when it is saved.
        after: undefined,
        confirmed: false,
      }),
    );
    expect(field(/^Value/)).toHaveProperty('value', '');
    expect(screen.getByRole('combobox', { name: /^Mode/ })).toHaveProperty('value', 'resistance');
  });

  test('the change that it follows is sent only where somebody chose one', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={() => undefined} />);
    const follows = screen.getByLabelText('Follows');
    expect(follows).toHaveProperty('value', 'a1');
    await person.selectOptions(follows, 'no change made');
    await person.type(screen.getByLabelText('Where'), 'coil');
    await person.type(screen.getByLabelText('Value'), '12');
    await person.click(screen.getByRole('button', { name: 'Save and add another' }));
    await screen.findByText(/One reading saved/);
    expect(add).toHaveBeenLastCalledWith(expect.objectContaining({ after: null }));
  });

  test('the caution stands before what is measured without power', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    expect(screen.queryByText(/Disconnect the battery/)).toBeNull();
    await person.selectOptions(screen.getByRole('combobox', { name: /^Mode/ }), 'diode');
    expect(screen.getByText(/Disconnect the battery and every supply/)).toBeTruthy();
  });

  test('what is odd is asked about, and a change of it asks anew', async () => {
    add.mockResolvedValueOnce(kept({ kept: false, asks: ['Far above its rail.'] }));
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    await person.type(screen.getByRole('combobox', { name: /^Where/ }), 'main');
    await person.type(field(/^Value/), '38');
    await person.click(screen.getByRole('button', { name: 'Save and add another' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Far above its rail.');
    await person.type(field(/^Value/), '{Backspace}');
    expect(screen.queryByRole('alert')).toBeNull();
    await person.click(screen.getByRole('button', { name: 'Save and add another' }));
    await waitFor(() => expect(add).toHaveBeenCalledTimes(2));
    expect(add.mock.calls[1][0]).toMatchObject({ text: '3', confirmed: false });
  });

  test('many in one line, and which of them stands out', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    await person.type(field(/^Several readings/), 'coil1 45, coil2 90, coil3 0.4');
    await person.click(screen.getByRole('button', { name: 'Save all' }));
    await screen.findByText('coil3 stands out');
    expect(screen.getByText(/3 readings saved/)).toBeTruthy();
    expect(add).not.toHaveBeenCalled();
  });
});

describe('changes', () => {
  const add = addAction as jest.Mock;
  beforeEach(() => {
    add.mockReset().mockResolvedValue(kept({ kept: true, asks: [] }));
    (predictChangeOf as jest.Mock)
      .mockReset()
      .mockResolvedValue(kept([{ name: 'Backlight', says: 'draws less, 80 %' }]));
  });

  test('what each suspect expects of the run after it is said before it is made', async () => {
    const { person } = show(<ActionDialog view={view} onClose={jest.fn()} />);
    await person.type(screen.getByRole('combobox', { name: /^Part/ }), 'coil');
    expect(await screen.findByText('draws less, 80 %')).toBeTruthy();
    expect(predictChangeOf).toHaveBeenCalledTimes(1);
    await person.selectOptions(screen.getByRole('combobox', { name: /^What was done/ }), 'replace');
    expect(screen.queryByText('draws less, 80 %')).toBeNull();
  });

  test('one that cannot be undone says so, asks, and is kept when it is said once more', async () => {
    add.mockResolvedValueOnce(kept({ kept: false, asks: ['Nothing was found there.'] }));
    const onClose = jest.fn();
    const { person } = show(<ActionDialog view={view} onClose={onClose} />);
    await person.selectOptions(screen.getByRole('combobox', { name: /^What was done/ }), 'replace');
    await person.click(screen.getByRole('checkbox', { name: 'the part is from a donor' }));
    await person.click(screen.getByRole('checkbox', { name: 'a different suffix or variant' }));
    await person.click(screen.getByRole('checkbox', { name: 'a different suffix or variant' }));
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Nothing was found there.');
    expect(onClose).not.toHaveBeenCalled();
    await person.click(await screen.findByRole('button', { name: 'Save anyway' }));
    await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
    expect(add.mock.calls.map(([raw]) => (raw as { confirmed: boolean }).confirmed)).toEqual([false, true]);
    expect(add.mock.calls[1][0]).toMatchObject({ kind: 'replace', confounders: ['donor'], runBefore: null });
  });

  test('a wait goes with the minutes that are usual here', async () => {
    const { person } = show(<ActionDialog view={view} onClose={jest.fn()} />);
    await person.selectOptions(
      screen.getByRole('combobox', { name: /^Then wait for/ }),
      await screen.findByRole('option', { name: 'Dry, 4 h' }),
    );
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(add).toHaveBeenCalled());
    expect(add.mock.calls[0][0]).toMatchObject({ waitKind: 'dry', waitMinutes: 240 });
  });

  test('what was refused stays to be corrected', async () => {
    add.mockResolvedValue(refused('Somebody closed the job meanwhile.'));
    const onClose = jest.fn();
    const { person } = show(<ActionDialog view={view} onClose={onClose} />);
    await person.type(screen.getByRole('textbox', { name: 'Note' }), 'under the shield');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Somebody closed the job meanwhile.');
    expect(screen.getByRole('textbox', { name: 'Note' })).toHaveProperty('value', 'under the shield');
    expect(onClose).not.toHaveBeenCalled();
  });
});

describe('whole units and parts that stay off', () => {
  const add = addAction as jest.Mock;
  beforeEach(() => add.mockReset().mockResolvedValue(kept({ kept: true, asks: [] })));

  test('a unit goes with a replacement alone, what stays off with a removal alone', async () => {
    const { person } = show(<ActionDialog view={view} onClose={jest.fn()} />);
    const what = screen.getByRole('combobox', { name: /^What was done/ });
    await person.selectOptions(what, 'replace');
    await person.selectOptions(screen.getByRole('combobox', { name: /^Whole unit/ }), 'pack');
    await person.selectOptions(what, 'remove');
    expect(screen.queryByRole('combobox', { name: /^Whole unit/ })).toBeNull();
    await person.click(screen.getByRole('checkbox', { name: /^not refitted/ }));
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(add).toHaveBeenCalled());
    expect(add.mock.calls[0][0]).toMatchObject({ kind: 'remove', unit: null, stays: true, circuit: '' });
  });

  test('a unit that was chosen is sent as such', async () => {
    const { person } = show(<ActionDialog view={view} onClose={jest.fn()} />);
    await person.selectOptions(screen.getByRole('combobox', { name: /^What was done/ }), 'replace');
    await person.selectOptions(screen.getByRole('combobox', { name: /^Whole unit/ }), 'pack');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(add).toHaveBeenCalled());
    expect(add.mock.calls[0][0]).toMatchObject({ kind: 'replace', unit: 'pack', stays: false });
  });
});

describe('checks', () => {
  const add = addCheck as jest.Mock;
  beforeEach(() => add.mockReset().mockResolvedValue(kept(undefined)));

  test('of one half alone, and with something unplugged meanwhile', async () => {
    const { person } = show(<CheckDialog view={view} onClose={jest.fn()} />);
    await person.click(screen.getByRole('radio', { name: 'image' }));
    await person.type(screen.getByLabelText(/^Unplugged meanwhile/), 'docking bridge, , fan');
    await person.selectOptions(screen.getByRole('combobox', { name: 'Seen on' }), 'upper');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(add).toHaveBeenCalled());
    expect(add.mock.calls[0][0]).toMatchObject({
      check: 'screen',
      outcome: 'image',
      half: 'upper',
      unplugged: ['docking bridge', 'fan'],
    });
  });

  test('halves are asked for only where the device came apart', async () => {
    show(<CheckDialog view={{ ...view, halves: [] }} onClose={jest.fn()} />);
    await screen.findByRole('button', { name: 'Save' });
    expect(screen.queryByRole('combobox', { name: 'Seen on' })).toBeNull();
  });
});

describe('which net a place is on', () => {
  const name = namePlace as jest.Mock;
  const guesses = [
    { circuit: 'rail.boost', p: 0.41 },
    { circuit: 'rail.main', p: 0.3 },
  ] as const;
  beforeEach(() => name.mockReset().mockResolvedValue(kept(undefined)));

  test('is picked from the guesses, or from all circuits', async () => {
    const onClose = jest.fn();
    const place = { where: 'speck by the plug', circuit: null, guesses };
    const { person } = show(<PlaceDialog jobId={7} place={place} onClose={onClose} />);
    await person.click(screen.getByRole('radio', { name: /^Boost rail 41 %/ }));
    expect(screen.getByRole('combobox', { name: 'Circuit' })).toHaveProperty('value', 'rail.boost');
    await person.selectOptions(screen.getByRole('combobox', { name: 'Circuit' }), 'radio');
    await person.click(screen.getByRole('button', { name: 'Set the net' }));
    await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
    expect(name).toHaveBeenCalledWith({ jobId: 7, where: 'speck by the plug', circuit: 'radio' });
  });

  test('what was refused is said, and the dialog stays', async () => {
    name.mockResolvedValue(refused('Circuit: choose one'));
    const onClose = jest.fn();
    const { person } = show(
      <PlaceDialog jobId={7} place={{ where: 'speck', circuit: null, guesses: [] }} onClose={onClose} />,
    );
    await person.click(screen.getByRole('button', { name: 'Set the net' }));
    await screen.findByText('Circuit: choose one');
    expect(onClose).not.toHaveBeenCalled();
  });
});

test('a reading is corrected: what is odd is asked about, and a change of the value asks anew', async () => {
  const edit = editReading as jest.Mock;
  edit.mockReset().mockResolvedValueOnce(kept({ kept: false, asks: ['Far above its rail.'] }));
  edit.mockResolvedValue(kept({ kept: true, asks: [] }));
  const onClose = jest.fn();
  const reading = { id: 3, where: 'coil', text: '12 ohm', mode: 'resistance' as const };
  const { person } = show(<EditReading jobId={7} reading={reading} onClose={onClose} />);
  const value = screen.getByRole('textbox', { name: /^Value/ });
  expect(value).toHaveProperty('value', '12 ohm');
  await person.clear(value);
  await person.type(value, '38');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('Far above its rail.');
  await person.clear(value);
  await person.type(value, '>1k');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
  expect(edit.mock.calls.map(([raw]) => raw as object)).toMatchObject([
    { readingId: 3, text: '38', mode: 'resistance', confirmed: false },
    { readingId: 3, text: '>1k', confirmed: false },
  ]);
});
