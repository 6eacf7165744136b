import { screen, waitFor, within } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { keepHeatSeen, readSeenWarm } from './actions';
import { HeatNote } from './heat-note';
import type { LocateView, RailChoice } from './view';

jest.mock('./actions', () => ({ keepHeatSeen: jest.fn(), readSeenWarm: jest.fn() }));
const keep = keepHeatSeen as jest.Mock;
const read = readSeenWarm as jest.Mock;

const rail = {
  id: 'main',
  name: 'Main rail',
  places: [
    { id: 'main', name: 'a part straight on it' },
    { id: 'buck', name: 'core converter' },
  ],
} as RailChoice;
const view = (isOwn: boolean): LocateView =>
  ({ jobId: 7, isOwn, tree: [...rail.places, { id: 'radio', name: 'radio chip' }] }) as unknown as LocateView;
const sent = (): Record<string, unknown> => keep.mock.calls[0][0] as Record<string, unknown>;
const save = () => screen.getByRole('button', { name: 'Save heat result' });

beforeEach(() => {
  keep.mockReset().mockResolvedValue(kept(1));
  read.mockReset().mockResolvedValue(kept({ says: 'The core converter is the place.', last: 'buck' }));
});

test('everything warm is named, the tree says which of it is the place, and that goes to the record', async () => {
  const { person } = show(<HeatNote view={view(true)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'one spot' }));
  const list = screen.getByRole('combobox', { name: /Everything that is warm/ });
  await person.selectOptions(list, 'main');
  await person.selectOptions(list, 'buck');
  expect(await screen.findByText('The core converter is the place.')).toBeTruthy();
  expect(read).toHaveBeenLastCalledWith({ jobId: 7, warm: ['main', 'buck'], outcome: 'one-spot' });
  await person.type(screen.getByRole('textbox', { name: 'Voltage at the rail' }), '0.8 V');
  await person.type(screen.getByRole('textbox', { name: 'Current' }), '1.3 A');
  await person.click(save());
  await screen.findByText('Saved. The suspects are updated.');
  expect(sent()).toMatchObject({
    jobId: 7,
    outcome: 'one-spot',
    hot: 'buck',
    rail: 'main',
    volts: '0.8 V',
    amps: '1.3 A',
  });
});

test('what was named by mistake is taken off the list', async () => {
  const { person } = show(<HeatNote view={view(true)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'several spots' }));
  await person.selectOptions(screen.getByRole('combobox', { name: /Everything/ }), 'radio');
  const warm = screen.getByRole('list', { name: 'Warm' });
  await person.click(within(warm).getByRole('button', { name: /radio chip/ }));
  expect(screen.queryByRole('list', { name: 'Warm' })).toBeNull();
  await person.click(save());
  await waitFor(() => expect(keep).toHaveBeenCalled());
  expect(sent()).toMatchObject({ outcome: 'several-spots', hot: '' });
});

test('nothing warm names no place, whatever was typed before', async () => {
  const { person } = show(<HeatNote view={view(false)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'one spot' }));
  await person.type(screen.getByRole('textbox', { name: /What gets warm/ }), 'a coil');
  await person.click(screen.getByRole('radio', { name: 'nothing' }));
  await person.click(save());
  await waitFor(() => expect(keep).toHaveBeenCalled());
  expect(sent()).toMatchObject({ outcome: 'none', hot: '' });
});

test('a device that was on by itself had no rail fed', async () => {
  const { person } = show(<HeatNote view={view(false)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'one spot' }));
  await person.type(screen.getByRole('textbox', { name: /What gets warm/ }), 'a coil');
  await person.selectOptions(screen.getByRole('combobox', { name: 'Circuit' }), 'rail.run');
  await person.click(screen.getByRole('checkbox'));
  expect(screen.queryByRole('textbox', { name: 'Voltage at the rail' })).toBeNull();
  await person.click(save());
  await waitFor(() => expect(keep).toHaveBeenCalled());
  expect(sent()).toMatchObject({ hot: 'a coil', rail: '', circuit: 'rail.run' });
  expect(sent()).not.toHaveProperty('volts');
});

test('what the camera of the simulated bench has seen stands there already', () => {
  show(<HeatNote view={view(true)} rail={rail} seen={{ hot: 'buck', setV: 0.8, limitA: 2, amps: 1.31 }} />);
  expect(screen.getByRole('radio', { name: 'one spot' })).toHaveProperty('checked', true);
  expect(within(screen.getByRole('list', { name: 'Warm' })).getByText(/core converter/)).toBeTruthy();
  expect(screen.getByRole('textbox', { name: 'Voltage at the rail' })).toHaveProperty('value', '0.80 V');
  expect(screen.getByRole('textbox', { name: 'Limit' })).toHaveProperty('value', '2 A');
  expect(screen.getByRole('textbox', { name: 'Current' })).toHaveProperty('value', '1.31 A');
});

test('a processor that warms evenly is said to be no fault by itself', async () => {
  const { person } = show(<HeatNote view={view(true)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'a whole part, evenly' }));
  expect(screen.getByText(/A working processor warms evenly/)).toBeTruthy();
});

test('what was refused stays to be corrected', async () => {
  keep.mockResolvedValue(refused('Volts: type what stood on the rail.'));
  const { person } = show(<HeatNote view={view(false)} rail={rail} seen={null} />);
  await person.click(screen.getByRole('radio', { name: 'one spot' }));
  await person.type(screen.getByRole('textbox', { name: /What gets warm/ }), 'a coil');
  await person.click(save());
  expect((await screen.findByRole('alert')).textContent).toContain('Volts: type');
  expect(screen.getByRole('textbox', { name: /What gets warm/ })).toHaveProperty('value', 'a coil');
});
