import { screen, waitFor, within } from '@testing-library/react';
import { alignmentThrough, type Pair } from '@umbral/core/board';
import { kept, refused, show } from '@/testing/show';
import { chooseRevision, mergeTwoNets, saveMark, savePoint, setOff } from './actions';
import { BoardMap } from './board-map';
import type { NetState } from './map-canvas';
import type { BoardView, MapPoint } from './view';

jest.mock('./actions', () => ({
  chooseRevision: jest.fn(),
  findHottest: jest.fn(),
  laySaved: jest.fn(),
  mergeTwoNets: jest.fn(),
  saveMark: jest.fn(),
  savePoint: jest.fn(),
  setOff: jest.fn(),
  straightenSide: jest.fn(),
  undoMerge: jest.fn(),
}));
jest.mock('next/navigation', () => ({ useRouter: () => ({ refresh: () => undefined }) }));

const point = (id: number, net: string, more: Partial<MapPoint> = {}): MapPoint => ({
  id,
  x: 0.2 * id,
  y: 0.3,
  kind: 'coil',
  name: '',
  net,
  netName: net,
  circuit: null,
  suspicion: 0,
  causes: [],
  ...more,
});
const pairs: Pair[] = [
  { from: [0, 0], to: [0, 0] },
  { from: [1, 0], to: [1, 0] },
];
const board = (points: MapPoint[] = [], more: Partial<BoardView> = {}): BoardView => ({
  model: 'made-up',
  modelName: 'made-up',
  jobId: 7,
  revision: 'A',
  revisions: ['A'],
  isRevisionOpen: false,
  nets: [{ id: 'run', name: 'run rail' }],
  sides: [
    {
      id: 3,
      name: 'front',
      height: 0.6,
      pictures: [
        {
          ...{ id: 5, isOwn: false, kind: 'photo', caption: '', width: 1000, height: 600, pairs },
          alignment: alignmentThrough(pairs),
        },
      ],
      points,
      marks: [],
    },
  ],
  ...more,
});
const nets = new Map<string, NetState>([
  ['run', { status: 'shorted', reading: '0.90 ohm', was: '', good: ['resistance 84 ohm (3 boards)'] }],
  ['main', { status: 'good', reading: '3.80 V', was: '0.10 V', good: [] }],
]);

beforeEach(() => {
  jest.clearAllMocks();
  jest.mocked(savePoint).mockResolvedValue(kept({ id: 9, was: null }) as never);
  jest.mocked(setOff).mockResolvedValue(kept(undefined) as never);
});

test('every point says what it is, how it stands, what a good board reads and whose turn it is', () => {
  const points = [
    point(1, 'run', { netName: 'run rail', name: 'big coil', suspicion: 0.41, causes: ['here twice: big coil'] }),
    point(2, 'main'),
    point(3, 'other'),
  ];
  show(<BoardMap board={board(points)} nets={nets} plan={['other', 'run']} current="other" />);
  const name = (start: string): string =>
    screen.getByRole('button', { name: new RegExp(`^${start}`) }).getAttribute('aria-label') ?? '';
  expect(name('big coil')).toBe(
    'big coil, run rail, 0.90 ohm, shorted, good: resistance 84 ohm (3 boards), next probe 2, suspects here 41 %, here twice: big coil',
  );
  expect(name('main')).toBe('main, 3.80 V, good, before the last change 0.10 V');
  expect(name('other')).toBe('other, not measured, next probe 1');
});

test('one point is reached by Tab, the others by arrows; Enter puts the probe there', async () => {
  const measured: string[] = [];
  const points = [point(1, 'run'), point(2, 'main'), point(3, 'other')];
  const { person } = show(
    <BoardMap board={board(points)} nets={nets} current="run" onMeasure={(p) => measured.push(p.net)} />,
  );
  const at = (net: string) => screen.getByRole('button', { name: new RegExp(`^${net}`) });
  expect([at('run').tabIndex, at('main').tabIndex]).toEqual([0, -1]);
  at('run').focus();
  await person.keyboard('{ArrowRight}{ArrowRight}');
  expect(document.activeElement).toBe(at('other'));
  await person.keyboard('{Enter}');
  expect(measured).toEqual(['other']);
});

test('when the probe goes on, only its point bears a name', async () => {
  const points = [point(1, 'run'), point(2, 'main')];
  const map = (current: string) => (
    <BoardMap board={board(points)} nets={nets} current={current} onMeasure={() => undefined} />
  );
  const { person, rerender } = show(map('run'));
  await person.click(screen.getByRole('button', { name: /^run/ }));
  const named = () => [...document.querySelectorAll('.shadow')].map((x) => x.firstChild?.textContent);
  expect(named()).toEqual(['run']);
  rerender(map('main'));
  expect(named()).toEqual(['main']);
});

test('a point is added and measured at once; Backspace takes it back', async () => {
  const measured: MapPoint[] = [];
  const { person } = show(<BoardMap board={board()} onMeasure={(p) => measured.push(p)} />);
  await person.click(screen.getByRole('button', { name: /^Add a point/ }));
  const form = screen.getByRole('form', { name: 'New point' });
  await person.type(within(form).getByLabelText(/^Net/), 'Run rail{Enter}');
  await waitFor(() => expect(screen.queryByRole('form')).toBeNull());
  expect(jest.mocked(savePoint).mock.calls[0][0]).toMatchObject({ id: null, sideId: 3, net: 'Run rail', kind: 'coil' });
  expect(measured).toMatchObject([{ id: 9, net: 'run', netName: 'run rail' }]);
  screen.getByRole('button', { name: 'Zoom in' }).focus();
  await person.keyboard('{Backspace}');
  await waitFor(() => expect(setOff).toHaveBeenCalledWith({ of: 'point', id: 9, removed: true }));
});

test('the ends of one coil row are put one after the other', async () => {
  const { person } = show(<BoardMap board={board()} />);
  await person.click(screen.getByRole('button', { name: /^Add a point/ }));
  await person.type(screen.getByLabelText(/^Net/), 'coil row');
  for (const n of [1, 2]) {
    await person.click(screen.getByRole('button', { name: 'Add, and another of this net' }));
    await waitFor(() => expect(savePoint).toHaveBeenCalledTimes(n));
    expect(screen.getByLabelText<HTMLInputElement>(/^Net/).value).toBe('coil row');
  }
});

test('what is refused is said, and what was typed stands', async () => {
  jest.mocked(savePoint).mockResolvedValue(refused('Point: outside the board') as never);
  const { person } = show(<BoardMap board={board()} />);
  await person.click(screen.getByRole('button', { name: /^Add a point/ }));
  await person.type(screen.getByLabelText(/^Net/), 'run rail{Enter}');
  expect((await screen.findByRole('alert')).textContent).toContain('Point: outside the board');
  expect(screen.getByLabelText<HTMLInputElement>(/^Net/).value).toBe('run rail');
});

test('two nets are merged from the form of a point', async () => {
  jest.mocked(mergeTwoNets).mockResolvedValue(kept([1]) as never);
  const { person } = show(<BoardMap board={board([point(1, 'coil row'), point(2, 'main')])} />);
  await person.click(screen.getByRole('button', { name: /^coil row/ }));
  await person.selectOptions(screen.getByRole('combobox', { name: 'Same net as' }), 'main');
  await person.click(screen.getByRole('button', { name: 'Merge nets' }));
  await waitFor(() => expect(mergeTwoNets).toHaveBeenCalledWith({ sideId: 3, from: 'coil row', into: 'main' }));
});

test('an area is drawn by keyboard, corner by corner, and saved as what was seen', async () => {
  jest.mocked(saveMark).mockResolvedValue(kept(4) as never);
  const { person } = show(<BoardMap board={board()} />);
  await person.click(screen.getByRole('button', { name: 'Mark an area' }));
  const cross = screen.getByRole('button', { name: /^Next corner/ });
  cross.focus();
  await person.keyboard('{Enter}{ArrowRight}{Enter}{ArrowDown}{Enter}');
  const form = screen.getByRole('form', { name: 'New mark' });
  await person.selectOptions(within(form).getByLabelText('What it is'), 'burnt');
  await person.click(within(form).getByRole('button', { name: 'Save the mark' }));
  await waitFor(() => expect(saveMark).toHaveBeenCalled());
  const [sent] = jest.mocked(saveMark).mock.calls[0] as [{ area: [number, number][] }];
  expect(sent).toMatchObject({ jobId: 7, sideId: 3, kind: 'burnt' });
  expect(sent.area).toHaveLength(3);
  expect(sent.area[1][0]).toBeGreaterThan(sent.area[0][0]);
  expect(sent.area[2][1]).toBeGreaterThan(sent.area[1][1]);
});

test('without a picture it says what to do; without a model, why it cannot', () => {
  const { unmount } = show(<BoardMap board={board([], { sides: [] })} />);
  expect(screen.getByLabelText('Picture of the board')).toBeTruthy();
  unmount();
  show(<BoardMap board={board([], { sides: [], model: '' })} />);
  expect(screen.getByText(/Enter the model in the intake first/)).toBeTruthy();
});

test('boards that differ ask which revision lies here', async () => {
  jest.mocked(chooseRevision).mockResolvedValue(kept(undefined) as never);
  const { person } = show(<BoardMap board={board([], { revisions: ['A', 'B'], isRevisionOpen: true })} />);
  await person.click(within(screen.getByRole('alert')).getByRole('button', { name: 'B' }));
  expect(chooseRevision).toHaveBeenCalledWith({ jobId: 7, revision: 'B' });
  const choice = screen.getByRole('combobox', { name: /^Revision of this board/ });
  expect(
    within(choice)
      .getAllByRole('option')
      .map((o) => o.textContent),
  ).toEqual(['A', 'B']);
});
