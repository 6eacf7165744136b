import type { GuessedFields, TaughtBytes } from '@umbral/instruments';
import { screen, waitFor, within } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { guessFieldsAt, keepInstrument, keepTaught, listenAt } from './actions';
import { TeachView } from './teach';

jest.mock('./actions', () => ({
  listenAt: jest.fn(),
  guessFieldsAt: jest.fn(),
  keepTaught: jest.fn(),
  keepInstrument: jest.fn(),
}));

const framing = {
  start: 'A5 5A',
  end: '',
  length: { fixed: 8 },
  checksum: { kind: 'sum8' as const, from: 2, fromEnd: 0, order: 'big' as const },
};
const volts = { at: 2, type: 'u16' as const, order: 'little' as const, scale: 0.01, offset: 0, mask: null };
const amps = { ...volts, at: 4, scale: 0.001 };
const frame = 'A5 5A FC 01 7D 00 00 7A';

/** What a bench would answer: the values by the places that were marked, else by two places that fit. */
function answer({ looks, marked }: TaughtBytes): GuessedFields {
  const guessed = (field: typeof volts, says: number) => (looks.length > 0 ? [{ field, bytes: 2, says }] : []);
  const byHand = (of: 'volts' | 'amps') => (marked?.[of] ? [{ field: marked[of], bytes: 2, says: 1.25 }] : []);
  return {
    volts: [...byHand('volts'), ...guessed(volts, 5.08)],
    amps: [...byHand('amps'), ...guessed(amps, 0.125)],
    frames: [frame, frame],
  };
}

beforeEach(() => {
  jest.clearAllMocks();
  jest
    .mocked(listenAt)
    .mockResolvedValue(kept({ bytes: frame, afterPause: [], guesses: [{ framing, covers: 1, frames: 40 }] }) as never);
  jest
    .mocked(guessFieldsAt)
    .mockImplementation((asked) => Promise.resolve(kept(answer((asked as { taught: TaughtBytes }).taught)) as never));
  jest.mocked(keepTaught).mockResolvedValue(kept({ id: 'shelf-meter' }) as never);
});

const open = () => show(<TeachView at="/dev/ttyUSB0" baud="9600" benchId={null} />);
const savedText = (): unknown => JSON.parse((jest.mocked(keepTaught).mock.calls[0][0] as { text: string }).text);

/** Goes on with the Tab key until something has the focus. */
async function tabTo(person: ReturnType<typeof show>['person'], wanted: () => HTMLElement): Promise<void> {
  for (let k = 0; k < 60 && document.activeElement !== wanted(); k++) await person.tab();
  expect(document.activeElement).toBe(wanted());
}

test('a meter is taught by the keyboard alone: listen, type the display, save', async () => {
  const { person } = open();
  await tabTo(person, () => screen.getByRole('button', { name: 'Listen' }));
  await person.keyboard('{Enter}');
  const display = await screen.findByRole('region', { name: 'The display' });
  await tabTo(person, () => within(display).getByLabelText('Volts'));
  await person.keyboard('5.08');
  await person.tab();
  await person.keyboard('0.125{Enter}');
  await screen.findByText('5.08 V, 0.125 A', { exact: false, selector: 'li' });
  const save = await screen.findByRole('region', { name: 'Save the language' });
  expect(save.textContent).toContain('5.08 V, 125 mA');
  await tabTo(person, () => within(save).getByLabelText(/^Name/));
  await person.keyboard('Shelf meter');
  await tabTo(person, () => within(save).getByRole('button', { name: 'Save the language' }));
  await person.keyboard('{Enter}');
  await waitFor(() => expect(keepTaught).toHaveBeenCalled());
  expect(savedText()).toMatchObject({ id: 'shelf-meter', bauds: [9600], ...framing, fields: { volts, amps } });
});

test('values are marked on the bytes, without what a display shows, and their writing is set', async () => {
  const { person } = open();
  await person.click(screen.getByRole('button', { name: 'Listen' }));
  const frames = await screen.findByRole('region', { name: 'Frames' });
  await person.click(within(frames).getByRole('button', { name: 'Byte 2' }));
  const marked = await screen.findByRole('group', { name: 'Volts in the frame' });
  expect(marked.textContent).toContain('marked at byte 2, 1.25 V now');
  await person.selectOptions(within(marked).getByLabelText('Byte order'), 'big');
  await person.click(within(frames).getByRole('radio', { name: 'Amperes' }));
  await person.click(within(frames).getByRole('button', { name: 'Byte 4' }));
  const second = await screen.findByRole('group', { name: 'Amperes in the frame' });
  const scale = within(second).getByLabelText('Scale');
  await person.clear(scale);
  await person.type(scale, '0,0001');
  await person.tab();
  expect(await within(frames).findByRole('button', { name: 'Byte 3, in volts' })).toBeTruthy();
  const save = await screen.findByRole('region', { name: 'Save the language' });
  await person.type(within(save).getByLabelText(/^Name/), 'Shelf meter');
  jest.mocked(keepInstrument).mockResolvedValue(kept({ problems: [] }) as never);
  await person.click(within(save).getByRole('button', { name: 'Save and add the instrument' }));
  await waitFor(() => expect(keepTaught).toHaveBeenCalled());
  expect(savedText()).toMatchObject({
    fields: { volts: { ...volts, order: 'big' }, amps: { ...amps, scale: 0.0001 } },
  });
  // Where it was heard is where it is: nothing is asked again.
  await waitFor(() => expect(keepInstrument).toHaveBeenCalled());
  expect(jest.mocked(keepInstrument).mock.calls[0][0]).toMatchObject({
    name: 'Shelf meter',
    kind: 'meter',
    dialect: 'shelf-meter',
    way: 'serial',
    path: '/dev/ttyUSB0',
    baudRate: 9600,
  });
  expect(await screen.findByText(/is an instrument of the bench now/)).toBeTruthy();
});

test('a mark goes away, and what was guessed comes back', async () => {
  const { person } = open();
  await person.click(screen.getByRole('button', { name: 'Listen' }));
  const frames = await screen.findByRole('region', { name: 'Frames' });
  await person.click(within(frames).getByRole('button', { name: 'Byte 5' }));
  await person.click(await screen.findByRole('button', { name: 'Remove the mark' }));
  await waitFor(() => expect(screen.queryByRole('group', { name: 'Volts in the frame' })).toBeNull());
});

test('what goes wrong while listening is said where it happened', async () => {
  jest.mocked(listenAt).mockResolvedValueOnce(refused('/dev/ttyUSB0: another program holds this port') as never);
  const { person } = open();
  await person.click(screen.getByRole('button', { name: 'Listen' }));
  expect((await screen.findByRole('alert')).textContent).toContain('another program holds this port');
});
