import { screen, waitFor, within } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import {
  findAt,
  keepInstrument,
  keepTaught,
  placesAt,
  putInstrumentBack,
  readSettingsAgain,
  takeInstrumentAway,
  tryAt,
} from './actions';
import { Instruments } from './instruments';
import type { InstrumentView, SettingsViewData } from './view';

jest.mock('./actions', () => ({
  keepInstrument: jest.fn(),
  putInstrumentBack: jest.fn(),
  readSettingsAgain: jest.fn(),
  takeInstrumentAway: jest.fn(),
  placesAt: jest.fn(),
  findAt: jest.fn(),
  tryAt: jest.fn(),
  keepTaught: jest.fn(),
  readDialectText: jest.fn(),
}));
jest.mock('./calibration-dialog', () => ({ CalibrationDialog: () => null }));
const states: object[] = [];
jest.mock('@/ui/kit/use-recorder', () => ({ useRecorder: () => ({ states }) }));

const instrument = (more: Partial<InstrumentView> = {}): InstrumentView => ({
  key: 'window-supply',
  version: 4,
  benchId: null,
  name: 'Window supply',
  kind: 'supply',
  simulated: false,
  where: '192.0.2.7, port 5025',
  speaks: 'SCPI as usual',
  transport: { kind: 'tcp', host: '192.0.2.7', port: 5025 },
  dialect: 'scpi-usual',
  corrected: [],
  history: [],
  ...more,
});
const view = (instruments: InstrumentView[], more: Partial<SettingsViewData> = {}): SettingsViewData => ({
  instruments,
  dialects: [
    { id: 'scpi-usual', name: 'SCPI as usual', kind: 'supply', bauds: [9600], unit: null },
    { id: 'lines', name: 'volts and amperes in lines', kind: 'meter', bauds: [115_200], unit: null },
  ],
  problems: [],
  benches: [],
  ...more,
});
const keep = keepInstrument as jest.Mock;
const open = (of: SettingsViewData) => show(<Instruments view={of} />);

beforeEach(() => {
  jest.clearAllMocks();
  states.length = 0;
  keep.mockResolvedValue(kept({ key: 'x', problems: [] }));
});

test('an empty bench says what can be added, and what is wrong with the files', () => {
  open(view([], { problems: ['dialects/old.json: "reads" is missing'] }));
  expect(screen.getByRole('heading', { name: 'No instrument yet' })).toBeTruthy();
  expect(screen.getByText('dialects/old.json: "reads" is missing')).toBeTruthy();
});

test('what an instrument shows, why it does not answer, and how it is corrected', () => {
  states.push(
    { key: 'window-supply', health: 'measuring', volts: 4.01, amps: 0.123, resolutionA: 0.001, why: null },
    { key: 'old', health: 'lost', volts: null, amps: null, resolutionA: null, why: 'it does not answer' },
  );
  const corrected = ['current shows 2 mA too much'];
  const history = [
    { id: 2, says: 'current shows 2 mA too much (2026-02-03)' },
    { id: 1, says: 'current shows 3 mA too much (2025-02-03)' },
  ];
  open(view([instrument({ corrected, history }), instrument({ key: 'old', name: 'Old meter' })]));
  const [window, old] = screen.getAllByRole('listitem').filter((li) => li.className === 'card');
  expect(within(window).getByRole('status').textContent).toMatch(/4\.01 V, 123 mA/);
  expect(within(window).getByText(/Corrected: current shows 2 mA too much/)).toBeTruthy();
  expect(within(window).getByText('2 calibrations')).toBeTruthy();
  expect(within(old).getByText('it does not answer')).toBeTruthy();
  expect(within(old).getByText(/Not calibrated/)).toBeTruthy();
});

test('is taken away by name, and put back while the message stands', async () => {
  const spec = { key: 'window-supply' };
  jest.mocked(takeInstrumentAway).mockResolvedValue(kept({ spec, problems: [] }) as never);
  jest.mocked(putInstrumentBack).mockResolvedValue(kept([]) as never);
  const { person } = open(view([instrument(), instrument({ key: 'sim', name: 'Simulated', simulated: true })]));
  expect(screen.queryByRole('button', { name: 'Take away Simulated' })).toBeNull();
  await person.click(screen.getByRole('button', { name: 'Remove Window supply' }));
  expect(await screen.findByText('Window supply was removed. Its runs are kept.')).toBeTruthy();
  expect(takeInstrumentAway).toHaveBeenCalledWith({ key: 'window-supply', version: 4 });
  await person.click(screen.getByRole('button', { name: /Undo/ }));
  await waitFor(() => expect(putInstrumentBack).toHaveBeenCalledWith(spec));
});

test('one that is in use is said to go later, and not to be gone', async () => {
  const problems = ['Window supply is in use. It will be removed when it is free.'];
  jest.mocked(takeInstrumentAway).mockResolvedValue(kept({ spec: { key: 'window-supply' }, problems }) as never);
  const { person } = open(view([instrument()]));
  await person.click(screen.getByRole('button', { name: 'Remove Window supply' }));
  expect(await screen.findByText(problems[0])).toBeTruthy();
  expect(screen.queryByText(/was removed/)).toBeNull();
});

test('files are read again, with what is wrong in them', async () => {
  const problems = ['dialects/new.json: not JSON'];
  jest.mocked(readSettingsAgain).mockResolvedValue(kept({ problems }) as never);
  const { person } = open(view([instrument()]));
  await person.click(screen.getByRole('button', { name: 'Reload files' }));
  expect(await screen.findByText('dialects/new.json: not JSON')).toBeTruthy();
});

describe('describing an instrument', () => {
  test('on the network: what is typed is sent, a port has digits only, what is missing is said', async () => {
    keep.mockResolvedValueOnce(refused('Address: name or number of the instrument in the network'));
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Add an instrument' }));
    await person.type(screen.getByRole('textbox', { name: /^Name/ }), 'Door supply');
    await person.clear(screen.getByRole('textbox', { name: 'Port' }));
    await person.type(screen.getByRole('textbox', { name: 'Port' }), '50a25');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    expect((await screen.findByRole('alert')).textContent).toMatch(/^Address/);
    await person.type(screen.getByRole('textbox', { name: 'Address' }), '192.0.2.9');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(screen.queryByRole('dialog')).toBeNull());
    expect(keep).toHaveBeenLastCalledWith(
      expect.objectContaining({ key: null, name: 'Door supply', way: 'tcp', host: '192.0.2.9', port: 5025 }),
    );
  });

  test('the language says what kind of instrument it is; on a serial port its path and speed are asked for', async () => {
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Add an instrument' }));
    await person.selectOptions(screen.getByRole('combobox', { name: 'Language' }), 'volts and amperes in lines');
    await person.selectOptions(screen.getByRole('combobox', { name: 'Connected by' }), 'serial port');
    await person.type(screen.getByRole('textbox', { name: 'Serial port' }), '/dev/ttyX0');
    await person.clear(screen.getByRole('textbox', { name: /^Speed/ }));
    await person.type(screen.getByRole('textbox', { name: /^Speed/ }), '9600');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(keep).toHaveBeenCalled());
    expect(keep.mock.calls[0][0]).toMatchObject({
      kind: 'meter',
      dialect: 'lines',
      way: 'serial',
      path: '/dev/ttyX0',
      baudRate: 9600,
    });
  });

  test('one that a camera reads needs neither a language nor an address', async () => {
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Add an instrument' }));
    await person.selectOptions(screen.getByRole('combobox', { name: 'Connected by' }), 'a camera on its display');
    expect(screen.getByText(/point a camera at the display/)).toBeTruthy();
    expect(screen.queryByRole('combobox', { name: 'Language' })).toBeNull();
    expect(screen.queryByRole('textbox', { name: 'Address' })).toBeNull();
  });

  test('is corrected from how it is, at the bench where it stands', async () => {
    const benches = [
      { id: 1, name: 'Front', isThere: true },
      { id: 2, name: 'Cellar', isThere: false },
    ];
    const { person } = open(view([instrument({ benchId: 1 })], { benches }));
    await person.click(screen.getByRole('button', { name: 'Edit Window supply' }));
    expect(screen.getByRole('textbox', { name: 'Address' })).toHaveProperty('value', '192.0.2.7');
    expect(screen.getByRole('option', { name: 'Cellar (not connected)' })).toBeTruthy();
    await person.selectOptions(screen.getByRole('combobox', { name: 'Bench' }), 'this computer');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(keep).toHaveBeenCalled());
    expect(keep.mock.calls[0][0]).toMatchObject({ key: 'window-supply', version: 4, benchId: null });
  });

  test('is tried before it is saved: what it shows, or why not', async () => {
    jest.mocked(tryAt).mockResolvedValueOnce(refused('192.0.2.7:5025: nothing is listening there') as never);
    const { person } = open(view([instrument()]));
    await person.click(screen.getByRole('button', { name: 'Edit Window supply' }));
    await person.click(screen.getByRole('button', { name: 'Try it' }));
    expect((await screen.findByRole('alert')).textContent).toContain('nothing is listening there');
    const shown = { says: 'PS', volts: 12.02, amps: 0.013, rateHz: 5.2, protections: 0 };
    jest.mocked(tryAt).mockResolvedValueOnce(kept(shown) as never);
    await person.click(screen.getByRole('button', { name: 'Try it' }));
    expect(
      await screen.findByText('12.02 V, 0.013 A. 5 readings a second. Does the display show the same?'),
    ).toBeTruthy();
    expect(keep).not.toHaveBeenCalled();
  });
});

describe('finding an instrument', () => {
  const places = {
    ports: [
      { path: '/dev/ttyA', says: 'Cable', usedBy: '' },
      { path: '/dev/ttyB', says: '', usedBy: 'Old meter' },
    ],
    standIns: [],
    bauds: [115_200, 9600],
    networkPorts: [5025],
  };
  const nothing = { found: [], why: 'nothing answers', heard: '' };

  test('looks at free ports at every speed until something answers, and adds what the display confirms', async () => {
    jest.mocked(placesAt).mockResolvedValue(kept(places) as never);
    const supply = {
      dialect: 'scpi-usual',
      name: 'SCPI as usual',
      kind: 'supply',
      unit: null,
      says: 'PS-32',
      volts: 12.02,
      amps: 0.013,
      rateHz: 5,
    };
    jest
      .mocked(findAt)
      .mockResolvedValueOnce(kept(nothing) as never)
      .mockResolvedValueOnce(kept({ found: [supply], why: '', heard: '' }) as never);
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Find an instrument' }));
    expect(await screen.findByText(/in use by Old meter/)).toBeTruthy();
    await person.click(screen.getByRole('button', { name: 'Find it' }));
    const found = await screen.findByRole('region', { name: 'Found at /dev/ttyA at 9600 baud' });
    expect(found.textContent).toContain('12.02 V, 0.013 A');
    expect(jest.mocked(findAt).mock.calls.map(([p]) => (p as { path: string; baudRate: number }).baudRate)).toEqual([
      115_200, 9600,
    ]);
    expect(found.textContent).toContain('Does its display show the same?');
    await person.click(within(found).getByRole('button', { name: 'Yes, add it' }));
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(keep).toHaveBeenCalled());
    expect(keep.mock.calls[0][0]).toMatchObject({
      way: 'serial',
      path: '/dev/ttyA',
      baudRate: 9600,
      dialect: 'scpi-usual',
      name: 'SCPI as usual',
    });
  });

  test('who says no is shown the next language that fits, and can teach it after the last', async () => {
    const meter = { dialect: 'one', name: 'One', kind: 'meter', unit: null, says: 'A', volts: 5, amps: 0.1, rateHz: 5 };
    const list = [meter, { ...meter, dialect: 'two', name: 'Two', says: 'B', volts: 500 }];
    jest.mocked(placesAt).mockResolvedValue(kept(places) as never);
    jest.mocked(findAt).mockResolvedValue(kept({ found: list, why: '', heard: '' }) as never);
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Find an instrument' }));
    await person.click(await screen.findByRole('button', { name: 'Find it' }));
    await screen.findByText('A');
    await person.click(screen.getByRole('button', { name: 'No' }));
    await screen.findByText('B');
    await person.click(screen.getByRole('button', { name: 'No' }));
    expect(await screen.findByText(/no other language fits/)).toBeTruthy();
    expect(screen.getByRole('link', { name: 'Teach Umbral this language' })).toBeTruthy();
  });

  test('says why nothing was found, and where an unknown language can be taught', async () => {
    jest.mocked(placesAt).mockResolvedValue(kept({ ...places, ports: [] }) as never);
    jest.mocked(findAt).mockResolvedValue(kept(nothing) as never);
    const { person } = open(view([]));
    await person.click(screen.getByRole('button', { name: 'Find an instrument' }));
    await screen.findByRole('button', { name: 'Find it' });
    await person.click(screen.getByRole('button', { name: 'Find it' }));
    expect((await screen.findByRole('alert')).textContent).toContain('No free serial port');
    await person.type(screen.getByRole('textbox', { name: /^Other port/ }), '192.0.2.8');
    await person.click(screen.getByRole('button', { name: 'Find it' }));
    expect(await screen.findByText('nothing answers')).toBeTruthy();
    jest.mocked(findAt).mockResolvedValue(kept({ found: [], why: 'in no known language', heard: 'A5 5A' }) as never);
    await person.click(screen.getByRole('button', { name: 'Find it' }));
    const link = await screen.findByRole('link', { name: 'Teach Umbral this language' });
    expect(link.getAttribute('href')).toContain('at=192.0.2.8%3A5025');
  });
});

test('a language file is added; what is wrong with it is said with its line', async () => {
  jest.mocked(keepTaught).mockResolvedValueOnce(refused('line 3: frames: start must be bytes') as never);
  const { person } = open(view([]));
  const field = screen.getByLabelText('Add a language file');
  // The page without a browser has no way to read a file.
  const file = Object.assign(new File(['{}'], 'meter.json'), { text: () => Promise.resolve('{}') });
  await person.upload(field, file);
  expect((await screen.findByRole('alert')).textContent).toBe('meter.json: line 3: frames: start must be bytes');
  jest.mocked(keepTaught).mockResolvedValueOnce(kept({ id: 'meter', name: 'Meter' }) as never);
  await person.upload(field, file);
  expect(await screen.findByText('meter.json was added.')).toBeTruthy();
});
