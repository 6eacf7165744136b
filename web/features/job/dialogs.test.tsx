import { screen, waitFor } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { ActionDialog } from './action-dialog';
import { addAction, addReading, addSweep, predictChangeOf } from './actions';
import { ReadingDialog } from './reading-dialog';
import type { JobView } from './view';

jest.mock('./actions', () => ({
  addAction: jest.fn(),
  addReading: jest.fn(),
  addSweep: jest.fn(),
  predictChangeOf: jest.fn(),
}));
jest.mock('@/features/day/actions', () => ({
  loadUsualWaits: () =>
    Promise.resolve({ ok: true, value: { cool: 10, bath: 8, dry: 240, part: 4320, overnight: 900 } }),
}));
jest.mock('./dumps', () => ({ Dumps: () => null }));
const view = {
  job: { id: 7 },
  actions: [{ key: 'a1', words: 'Coil removed' }],
  runs: [{ key: 'r1', title: 'r1: bench supply' }],
  elements: ['coil', 'buck'],
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
    await person.click(screen.getByRole('button', { name: 'Save, next reading' }));
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
    await person.click(screen.getByRole('button', { name: 'Save, next reading' }));
    await screen.findByText(/One reading saved/);
    expect(add).toHaveBeenLastCalledWith(expect.objectContaining({ after: null }));
  });

  test('the caution stands before what is measured without power', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    expect(screen.queryByText(/Disconnect the battery/)).toBeNull();
    await person.selectOptions(screen.getByRole('combobox', { name: /^Mode/ }), 'diode');
    expect(screen.getByText(/Disconnect the battery and every source/)).toBeTruthy();
  });

  test('what is odd is asked about, and a change of it asks anew', async () => {
    add.mockResolvedValueOnce(kept({ kept: false, asks: ['Far above its rail.'] }));
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    await person.type(screen.getByRole('combobox', { name: /^Where/ }), 'main');
    await person.type(field(/^Value/), '38');
    await person.click(screen.getByRole('button', { name: 'Save, next reading' }));
    expect((await screen.findByRole('alert')).textContent).toBe('Far above its rail.');
    await person.type(field(/^Value/), '{Backspace}');
    expect(screen.queryByRole('alert')).toBeNull();
    await person.click(screen.getByRole('button', { name: 'Save, next reading' }));
    await waitFor(() => expect(add).toHaveBeenCalledTimes(2));
    expect(add.mock.calls[1][0]).toMatchObject({ text: '3', confirmed: false });
  });

  test('many in one line, and which of them stands out', async () => {
    const { person } = show(<ReadingDialog view={view} onClose={jest.fn()} />);
    await person.type(field(/^Several at once/), 'coil1 45, coil2 90, coil3 0.4');
    await person.click(screen.getByRole('button', { name: 'Save all of them' }));
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
    await person.click(screen.getByRole('checkbox', { name: 'another suffix or variant' }));
    await person.click(screen.getByRole('checkbox', { name: 'another suffix or variant' }));
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Nothing was found there.');
    expect(onClose).not.toHaveBeenCalled();
    await person.click(await screen.findByRole('button', { name: 'Keep it all the same' }));
    await waitFor(() => expect(onClose).toHaveBeenCalledTimes(1));
    expect(add.mock.calls.map(([raw]) => (raw as { confirmed: boolean }).confirmed)).toEqual([false, true]);
    expect(add.mock.calls[1][0]).toMatchObject({ kind: 'replace', confounders: ['donor'], runBefore: null });
  });

  test('a wait goes with the minutes that are usual here', async () => {
    const { person } = show(<ActionDialog view={view} onClose={jest.fn()} />);
    await person.selectOptions(
      screen.getByRole('combobox', { name: /^Then it waits for/ }),
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
