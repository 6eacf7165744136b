import { screen, waitFor, within } from '@testing-library/react';
import type { JobParts } from '@/server/work/day/job-parts';
import type { PartView } from '@/server/work/day/parts';
import { kept, refused, show } from '@/testing/show';
import {
  arrived,
  cancelled,
  counted,
  keepDonor,
  keepPart,
  order,
  putBack,
  reserve,
  takeFromShelf,
  takeOffDonor,
} from './actions';
import { JobPartsView } from './job-parts-view';
import { orderText } from './order-text';
import { PartsView } from './parts-view';

jest.mock('./actions', () => ({
  arrived: jest.fn(),
  cancelled: jest.fn(),
  counted: jest.fn(),
  keepDonor: jest.fn(),
  keepPart: jest.fn(),
  order: jest.fn(),
  putBack: jest.fn(),
  reserve: jest.fn(),
  takeFromShelf: jest.fn(),
  takeOffDonor: jest.fn(),
}));
const part = (id: number, over: Partial<PartView> = {}): PartView => ({
  id,
  name: `coil ${id}`,
  number: `K-${id}`,
  suffix: 'B',
  fits: [],
  deviceClass: null,
  model: '',
  circuit: 'rail.run',
  onHand: 3,
  reserved: 0,
  ordered: 0,
  minimum: 0,
  version: 2,
  cost: 4,
  supplier: 'Millrace Components',
  shelf: 'drawer 1',
  short: 0,
  orders: [],
  ...over,
});

test('what is to be ordered can be sent as it stands, and an order that will not come can be cancelled', async () => {
  expect(orderText([part(1, { short: 2 }), part(2, { short: 1, suffix: '', supplier: '', cost: 0.2 })])).toBe(
    'No supplier noted\n1 × K-2, coil 2, 0.20 € each\n\nMillrace Components\n2 × K-1 B, coil 1, 4.00 € each',
  );
  jest.mocked(cancelled).mockResolvedValue(kept(undefined));
  const on = part(1, { short: 1, orders: [{ id: 7, count: 1, dueOn: '2026-12-09', jobId: null }] });
  const { person } = show(<PartsView parts={[on]} donors={[]} />);
  expect(screen.getByRole('region', { name: 'Order list' }).textContent).toContain('1 × K-1 B, coil 1, 4.00 € each');
  await person.click(screen.getByRole('button', { name: 'coil 1: cancel the order' }));
  expect(cancelled).toHaveBeenCalledWith(7);
});

beforeEach(() => {
  for (const action of [arrived, counted, order, putBack, reserve, takeOffDonor])
    jest.mocked(action).mockResolvedValue(kept(undefined));
  jest.mocked(keepPart).mockResolvedValue(kept(1));
  jest.mocked(keepDonor).mockResolvedValue(kept(1));
  jest.mocked(takeFromShelf).mockResolvedValue(kept([]));
});

describe('the shelf', () => {
  test('an empty one says what to do first', () => {
    show(<PartsView parts={[]} donors={[]} />);
    screen.getByText('No parts yet');
    screen.getByText(/None yet. A board that was not repaired/);
  });

  test('is searched by name, number and circuit; what is short can be shown alone', async () => {
    const { person } = show(<PartsView parts={[part(1), part(2, { short: 2, circuit: 'display' })]} donors={[]} />);
    const rows = (): number => screen.getAllByRole('row').length - 1;
    await person.type(screen.getByRole('textbox', { name: 'Search' }), 'display');
    expect(rows()).toBe(1);
    await person.clear(screen.getByRole('textbox', { name: 'Search' }));
    await person.click(screen.getByRole('button', { name: 'To order' }));
    expect(screen.getAllByRole('row')[1].textContent).toContain('2 to order');
    expect(rows()).toBe(1);
  });

  test('a count that is refused stays; an order that is here goes to the shelf', async () => {
    jest.mocked(counted).mockResolvedValue(refused('Counted: cannot be negative'));
    const orders = [{ id: 9, count: 3, dueOn: '2026-12-01', jobId: 12 }];
    const { person } = show(<PartsView parts={[part(1, { orders })]} donors={[]} />);
    await person.click(screen.getByRole('button', { name: 'coil 1: the order arrived' }));
    await waitFor(() => expect(arrived).toHaveBeenCalledWith(9));
    await person.click(screen.getByRole('button', { name: 'Count coil 1' }));
    const field = screen.getByRole('textbox', { name: 'Counted' });
    await person.clear(field);
    await person.type(field, '-3');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await screen.findByText('Counted: cannot be negative');
    expect((field as HTMLInputElement).value).toBe('-3');
    expect(counted).toHaveBeenCalledWith({ partId: 1, counted: '-3' });
  });

  test('a part is changed with the version that was seen, its suffixes apart', async () => {
    const { person } = show(<PartsView parts={[part(1, { fits: ['A'] })]} donors={[]} />);
    await person.click(screen.getByRole('button', { name: 'Edit coil 1' }));
    const fits = screen.getByRole('textbox', { name: /^Replaces suffixes/ });
    await person.type(fits, ', C ,');
    await person.click(screen.getByRole('button', { name: 'Save' }));
    await waitFor(() =>
      expect(keepPart).toHaveBeenCalledWith(
        expect.objectContaining({ id: 1, version: 2, fits: ['A', 'C'], deviceClass: null }),
      ),
    );
  });

  test('a donor board is kept with what was typed and no empty lines', async () => {
    const { person } = show(<PartsView parts={[]} donors={[]} />);
    await person.click(screen.getByRole('button', { name: 'New donor board' }));
    const dialog = screen.getByRole('dialog');
    await person.type(within(dialog).getByRole('textbox', { name: 'Board' }), 'cracked');
    await person.type(within(dialog).getByRole('textbox', { name: 'Part 1' }), 'chip');
    await person.click(within(dialog).getByRole('button', { name: 'Add a part' }));
    await person.click(within(dialog).getByRole('button', { name: 'Save' }));
    await waitFor(() => expect(keepDonor).toHaveBeenCalled());
    expect(jest.mocked(keepDonor).mock.calls[0][0]).toMatchObject({ label: 'cracked', parts: [{ what: 'chip' }] });
  });
});

describe('what a job needs', () => {
  const view = (over: Partial<JobParts> = {}): JobParts => ({
    jobId: 5,
    label: 'tablet',
    isClosed: false,
    likely: [{ part: part(1), p: 0.25, free: 2, reservedHere: 0, takenHere: 0 }],
    others: [part(2, { name: 'socket' })],
    donors: [
      {
        id: 8,
        donorId: 1,
        donor: 'cracked board',
        shelf: 'box 2',
        what: 'chip',
        number: 'C',
        suffix: '',
        circuit: 'pmic',
        p: 0.1,
      },
    ],
    ...over,
  });

  test('another suffix is asked about before it is taken', async () => {
    jest.mocked(takeFromShelf).mockResolvedValueOnce(kept(['The old part has suffix C, this one B.']));
    const { person } = show(<JobPartsView view={view()} />);
    await person.type(screen.getByRole('textbox', { name: 'Suffix of the old part' }), 'C');
    await person.click(screen.getByRole('button', { name: 'Take coil 1' }));
    await person.click(within(await screen.findByRole('alert')).getByRole('button', { name: 'Take it' }));
    await waitFor(() => expect(screen.queryByRole('alert')).toBeNull());
    const asked = jest.mocked(takeFromShelf).mock.calls.map(([raw]) => raw as { wanted: string; confirmed: boolean });
    expect(asked.map(({ wanted, confirmed }) => [wanted, confirmed])).toEqual([
      ['C', false],
      ['C', true],
    ]);
  });

  test('reserved and given back, put back, taken off a donor board', async () => {
    const likely = [{ part: part(1), p: 0.25, free: 2, reservedHere: 1, takenHere: 1 }];
    const { person } = show(<JobPartsView view={view({ likely })} />);
    await person.click(screen.getByRole('button', { name: 'Return coil 1 to the shelf' }));
    await waitFor(() => expect(reserve).toHaveBeenCalledWith(1, 5, 0));
    await person.click(screen.getByRole('button', { name: 'Return coil 1' }));
    await waitFor(() => expect(putBack).toHaveBeenCalledWith(1, 5));
    await person.click(screen.getByRole('button', { name: 'Take chip off cracked board' }));
    await waitFor(() => expect(takeOffDonor).toHaveBeenCalledWith(8, 5));
  });

  test('the rest of the shelf is found by a search; a closed job takes nothing', async () => {
    const { person } = show(<JobPartsView view={view({ isClosed: true })} />);
    await person.type(screen.getByRole('textbox', { name: 'Search the shelf' }), 'sock');
    screen.getByText('socket');
    expect(screen.queryByRole('button', { name: /^Take/ })).toBeNull();
    await person.type(screen.getByRole('textbox', { name: 'Search the shelf' }), 'xyz');
    screen.getByText('No match on the shelf.');
  });
});
