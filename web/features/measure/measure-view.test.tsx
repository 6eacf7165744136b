import { screen, waitFor, within } from '@testing-library/react';
import { kept, refused, show } from '@/testing/show';
import { takeTyped } from './actions';
import { MeasureBoard } from './measure-view';
import type { MeasureView, RungView } from './view';
import type { TestView } from './words';

jest.mock('./actions', () => ({ takeTyped: jest.fn() }));
jest.mock('./simulated-probe', () => ({ SimulatedProbe: () => null }));
jest.mock('./from-meter', () => ({ FromMeter: () => null }));
const take = takeTyped as jest.MockedFunction<typeof takeTyped>;

const phase = { expected: true, seen: null, implied: null, from: null };
const rung = (id: string, name: string, nominalV: number): RungView => ({
  id,
  name,
  state: 'always',
  circuit: 'rail.always-on',
  nominalV,
  depth: 3,
  capacitors: null,
  half: null,
  phases: { before: phase, after: phase, plugged: phase },
  diode: null,
  resistance: null,
  shorted: 0,
  facts: {} as RungView['facts'],
  good: [],
});

const probe = (at: string, mode: TestView['mode'] = 'voltage'): TestView => ({
  id: `reading:${at}`,
  kind: 'reading',
  title: `Measure ${at}`,
  at: [at],
  phase: mode === 'voltage' ? 'after' : null,
  mode,
  circuit: null,
  says: '0.4 bits in 1 min',
  risk: '',
  predicts: [],
});

const view = (more: Partial<MeasureView> = {}): MeasureView => ({
  jobId: 7,
  title: 'Job 0007',
  profile: 'made-up',
  profileId: 'made-up',
  isOwn: true,
  hasModel: true,
  hazards: ['Battery off first.'],
  rungs: [rung('main', 'Main rail', 3.8), rung('io', 'I/O 1.8 V', 1.8), rung('core', 'Core', 0.9)],
  suspects: [],
  isDecided: false,
  works: false,
  contradictions: [],
  next: [],
  probes: [probe('io'), probe('core')],
  board: {
    model: 'made-up',
    modelName: 'made-up',
    jobId: 7,
    sides: [],
    revision: '',
    revisions: [],
    isRevisionOpen: false,
    nets: [],
  },
  ...more,
});

const line = (): HTMLInputElement => screen.getByRole('textbox', { name: /·/ });

beforeEach(() => take.mockReset().mockResolvedValue(kept({ kept: true, asks: [] })));

test('a value and Enter keep a reading at the planned rail, and the line goes on to the next one of the plan', async () => {
  const { person } = show(<MeasureBoard view={view()} />);
  expect(line()).toBe(document.activeElement);
  await person.type(line(), '1.79{Enter}');
  expect(take).toHaveBeenCalledTimes(1);
  expect(take.mock.calls[0][0]).toMatchObject({
    jobId: 7,
    where: 'io',
    text: '1.79',
    mode: 'voltage',
    phase: 'after',
    good: false,
    confirmed: false,
  });
  expect(line().value).toBe('');
  expect(screen.getByText(/^Core/, { selector: 'label' })).toBeTruthy();
});

test('down the list where that is asked for, and arrows change the rail by hand', async () => {
  const { person } = show(<MeasureBoard view={view()} />);
  await person.selectOptions(screen.getByRole('combobox', { name: 'Then' }), 'down the list');
  await person.click(line());
  await person.keyboard('{ArrowUp}');
  expect(screen.getByText(/^Main rail/, { selector: 'label' })).toBeTruthy();
  await person.type(line(), '3.79{Enter}');
  expect(take.mock.calls[0][0]).toMatchObject({ where: 'main' });
  expect(screen.getByText(/^I\/O 1.8 V/, { selector: 'label' })).toBeTruthy();
});

test('what was typed belongs to its point: Enter at another one does not save it there', async () => {
  const { person } = show(<MeasureBoard view={view()} />);
  await person.type(line(), '1.79');
  await person.keyboard('{ArrowUp}');
  expect(line().value).toBe('');
  await person.keyboard('{Enter}');
  expect(take).not.toHaveBeenCalled();
  await person.keyboard('{ArrowDown}');
  expect(line().value).toBe('1.79');
});

test.each([
  ['d 0.41', 'diode mode', { text: '0.41', mode: 'diode' }],
  ['r 4.7k', 'resistance', { text: '4.7k', mode: 'resistance' }],
  ['0.8~1.2', 'voltage', { text: '0.8~1.2', mode: 'voltage' }],
])('%s is read for what it is while it is typed: %s', async (text, word, taken) => {
  const { person } = show(<MeasureBoard view={view()} />);
  await person.type(line(), text);
  expect(screen.getByText(new RegExp(`· ${word}`), { selector: 'label span' })).toBeTruthy();
  await person.keyboard('{Enter}');
  expect(take.mock.calls[0][0]).toMatchObject(taken);
});

test('what is no reading is said, and cannot be kept', async () => {
  const { person } = show(<MeasureBoard view={view()} />);
  await person.type(line(), 'abc');
  expect(screen.getByRole('button', { name: 'Save, next' }).getAttribute('aria-disabled')).toBe('true');
  await person.keyboard('{Enter}');
  expect(take).not.toHaveBeenCalled();
  expect(line().value).toBe('abc');
});

test('a reading that is odd is asked about, and kept when it is said once more', async () => {
  take.mockResolvedValueOnce(kept({ kept: false, asks: ['18 V on a 1.8 V rail: is the point missing?'] }));
  const { person } = show(<MeasureBoard view={view()} />);
  await person.type(line(), '18{Enter}');
  const list = await screen.findByRole('list', { name: 'Not saved yet' });
  expect(within(list).getByText(/is the point missing/)).toBeTruthy();
  await person.click(within(list).getByRole('button', { name: 'Save anyway' }));
  await waitFor(() => expect(screen.queryByRole('list', { name: 'Not saved yet' })).toBeNull());
  expect(take.mock.calls[1][0]).toMatchObject({
    text: '18',
    confirmed: true,
    circuit: 'rail.always-on',
    state: 'always',
  });
});

test('a save that fails loses nothing: it stands there until it is saved again or thrown away, also after a reload', async () => {
  take.mockRejectedValueOnce(new Error('away')).mockResolvedValueOnce(refused('The job is closed.'));
  const first = show(<MeasureBoard view={view()} />);
  await first.person.type(line(), '1.79{Enter}');
  await screen.findByText(/could not be reached/);
  first.unmount();
  const { person } = show(<MeasureBoard view={view()} />);
  const list = await screen.findByRole('list', { name: 'Not saved yet' });
  await person.click(within(list).getByRole('button', { name: 'Save again' }));
  await screen.findByText(/The job is closed/);
  await person.click(screen.getByRole('button', { name: 'Discard' }));
  expect(screen.queryByRole('list', { name: 'Not saved yet' })).toBeNull();
});

test('readings go to the record one after the other, in the order in which they were typed', async () => {
  let letGo = (): void => undefined;
  take.mockReturnValueOnce(new Promise((resolve) => (letGo = () => resolve(kept({ kept: true, asks: [] })))));
  const { person } = show(<MeasureBoard view={view()} />);
  await person.type(line(), '1.79{Enter}');
  await person.type(line(), '0.9{Enter}');
  expect(take).toHaveBeenCalledTimes(1);
  letGo();
  await waitFor(() => expect(take).toHaveBeenCalledTimes(2));
  expect(take.mock.calls.map(([raw]) => (raw as { text: string }).text)).toEqual(['1.79', '0.9']);
});

test('leads are taken off where they are stated, and only where they can be leads', async () => {
  const { person } = show(<MeasureBoard view={view({ probes: [probe('io', 'resistance')] })} />);
  const leads = screen.getByPlaceholderText('0.2 ohm');
  await person.type(leads, '0.3');
  await person.type(line(), '12{Enter}');
  await person.clear(leads);
  await person.type(leads, '40');
  await person.type(line(), '12{Enter}');
  await waitFor(() => expect(take).toHaveBeenCalledTimes(2));
  expect(take.mock.calls.map(([raw]) => (raw as { leadsOhm: number | null }).leadsOhm)).toEqual([0.3, null]);
});

test('hazards and contradictions stand before the hand', () => {
  show(<MeasureBoard view={view({ contradictions: ['I/O is up and what feeds it is missing.'] })} />);
  expect(screen.getByText('Battery off first.')).toBeTruthy();
  expect(within(screen.getByRole('list', { name: 'Contradictions' })).getByText(/what feeds it/)).toBeTruthy();
});

test('a board of which no rail is known says so, and nothing can be typed away', async () => {
  const { person } = show(<MeasureBoard view={view({ rungs: [], probes: [], isOwn: false })} />);
  expect(screen.getByText(/This model has no profile/)).toBeTruthy();
  await person.type(line(), '1.8{Enter}');
  expect(take).not.toHaveBeenCalled();
});
