import { screen, waitFor, within } from '@testing-library/react';
import type { Worker } from '@/server/work/day/workers';
import type { KeptPolicy } from '@/server/work/shop/policy';
import { kept, refused, show } from '@/testing/show';
import { keepDay, keepWorker } from './actions';
import { DayForm } from './day-form';
import { Workers } from './workers';

jest.mock('./actions', () => ({ keepDay: jest.fn(), keepWorker: jest.fn() }));
const week = [[['08:00', '12:00']], [], [], [], [], [], []] as unknown as KeptPolicy['hours']['week'];
const policy = {
  version: 3,
  fee: 80,
  fees: { laptop: 180 },
  hours: { zone: 'Europe/Vienna', week, closed: ['2026-12-24'] },
  equipment: { supply: 1, meter: 1, camera: 1, microscope: 1, 'hot-air': 1, preheater: 0, bath: 1 },
  diagnosisFee: 0,
  approval: 0.7,
  delayShare: 0.2,
  lateOnce: 60,
  lateDaily: 20,
  partCosts: {},
  waits: {},
} as unknown as KeptPolicy;

beforeEach(() => {
  jest.clearAllMocks();
  jest.mocked(keepDay).mockResolvedValue(kept(4));
  jest.mocked(keepWorker).mockResolvedValue(kept(undefined));
});

test('what is shown is what is kept: hours by day, shares as percentages, fees that differ', async () => {
  const { person } = show(<DayForm policy={policy} />);
  await person.type(screen.getByRole('textbox', { name: 'Tuesday' }), '9-17:30');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await waitFor(() => expect(keepDay).toHaveBeenCalled());
  expect(jest.mocked(keepDay).mock.calls[0][0]).toMatchObject({
    version: 3,
    hours: {
      zone: 'Europe/Vienna',
      week: [[['08:00', '12:00']], [['09:00', '17:30']], [], [], [], [], []],
      closed: ['2026-12-24'],
    },
    fees: { laptop: '180', phone: '' },
    approval: '70',
    delayShare: '20',
    equipment: { preheater: '0' },
  });
});

test('a span that is none is named with its day before anything is sent; what the server refuses stays', async () => {
  const { person } = show(<DayForm policy={policy} />);
  const sunday = screen.getByRole('textbox', { name: 'Sunday' });
  await person.type(sunday, 'maybe');
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText(/^Sunday: "maybe" is not a time span/);
  expect(keepDay).not.toHaveBeenCalled();
  jest.mocked(keepDay).mockResolvedValue(refused('Time zone: "Nowhere" is none'));
  await person.clear(sunday);
  await person.click(screen.getByRole('button', { name: 'Save' }));
  await screen.findByText('Time zone: "Nowhere" is none');
});

describe('who is at the bench', () => {
  const worker = (over: Partial<Worker> = {}): Worker => ({
    id: 2,
    name: 'Ada Quill',
    maxDepth: 5,
    hours: null,
    ...over,
  });

  test('says how far and when; never is seven empty days', async () => {
    const { person } = show(
      <Workers
        workers={[worker(), worker({ id: 3, name: 'Ben Ostrow', hours: { week: [[], [], [], [], [], [], []] } })]}
      />,
    );
    const [ada, ben] = screen.getAllByRole('listitem');
    expect(ada.textContent).toContain('shop hours · up to: stack split or chip off');
    expect(ben.textContent).toContain('never at the bench');
    await person.click(within(ada).getByRole('button', { name: 'Change Ada Quill' }));
    const dialog = screen.getByRole('dialog');
    await person.selectOptions(within(dialog).getByRole('combobox', { name: 'At the bench' }), 'never');
    await person.selectOptions(within(dialog).getByRole('combobox', { name: 'Opens devices up to' }), '1');
    await person.click(within(dialog).getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(keepWorker).toHaveBeenCalledWith({ id: 2, maxDepth: 1, week: [[], [], [], [], [], [], []] }),
    );
  });

  test('hours of their own are typed as those of the shop are', async () => {
    const { person } = show(<Workers workers={[worker()]} />);
    await person.click(screen.getByRole('button', { name: 'Change Ada Quill' }));
    await person.selectOptions(screen.getByRole('combobox', { name: 'At the bench' }), 'own');
    await person.type(screen.getByRole('textbox', { name: 'Friday' }), '10-14');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(keepWorker).toHaveBeenCalled());
    expect(jest.mocked(keepWorker).mock.calls.at(-1)?.[0]).toMatchObject({
      week: [[], [], [], [], [['10:00', '14:00']], [], []],
    });
  });
});
