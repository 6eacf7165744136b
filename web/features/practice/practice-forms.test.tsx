import { act, fireEvent, screen, waitFor, within } from '@testing-library/react';
import type { Card } from '@/server/work/practice/cards';
import type { LessonView as Lesson } from '@/server/work/practice/course';
import type { PracticeView, UnitBench } from '@/server/work/practice/view';
import { kept, refused, show } from '@/testing/show';
import { answer, call, lookAt, nameCard, switchOn, takeLessonUnit } from './actions';
import { Answer } from './answer';
import { CallForm } from './call-form';
import { CardsView } from './cards-view';
import { LessonView } from './lesson-view';
import { typeRun } from '@/features/job/actions';
import { UnitBenchPanel } from './unit-bench';
import { WatchDisplay } from './watch-display';

const push = jest.fn();
jest.mock('@/features/job/actions', () => ({ typeRun: jest.fn() }));
jest.mock('next/navigation', () => ({ useRouter: () => ({ push, refresh: jest.fn() }) }));
jest.mock('./actions', () => ({
  answer: jest.fn(),
  call: jest.fn(),
  lookAt: jest.fn(),
  nameCard: jest.fn(),
  switchOn: jest.fn(),
  takeLessonUnit: jest.fn(),
}));
// A chart needs a size, which a page without a browser does not have.
jest.mock('./lesson-picture', () => ({ LessonPicture: () => null }));

beforeEach(() => {
  jest.clearAllMocks();
  jest.mocked(call).mockResolvedValue(kept(undefined));
  jest.mocked(answer).mockResolvedValue(kept(undefined));
  jest.mocked(switchOn).mockResolvedValue(kept('r1'));
  jest.mocked(lookAt).mockResolvedValue(kept('dark'));
  jest.mocked(nameCard).mockResolvedValue(kept(undefined));
});

afterEach(() => void jest.useRealTimers());

const bench: UnitBench = {
  feeds: ['usb-c', 'battery'],
  instruments: { battery: ['display', 'bench-logger'], 'usb-c': ['usb-meter'], 'dc-in': [] },
  ports: 2,
  hasBattery: true,
  nominalV: 3.85,
  peripherals: [{ id: 'flex', name: 'side flex' }],
  rails: [],
  checks: [{ id: 'screen', name: 'Look at the screen', ask: 'What does the screen show?' }],
};
const practice = {
  jobId: 900000001,
  patterns: [{ id: 'no-draw', name: 'Draws nothing at all' }],
  circuits: [
    { id: 'pmic', name: 'Power-management IC' },
    { id: 'button', name: 'Button and wake line' },
  ],
  tests: [{ name: 'Flip the plug', kind: 'check', outcomes: ['another', 'the same'] }],
} as unknown as PracticeView;

describe('the call', () => {
  test('is asked for piece by piece, sums to 100, and goes with what is expected of the next test', async () => {
    const { person } = show(<CallForm practice={practice} />);
    const send = screen.getByRole('button', { name: 'Submit call' });
    await person.click(send);
    expect(screen.getByRole('alert').textContent).toContain('Pattern: choose');
    await person.selectOptions(screen.getByLabelText('What the run shows'), 'no-draw');
    await person.click(send);
    expect(screen.getByRole('alert').textContent).toContain('add at least one');
    expect(call).not.toHaveBeenCalled();
    const suspect = screen.getByRole('combobox', { name: 'Suspect' });
    await person.selectOptions(suspect, 'pmic');
    await person.selectOptions(suspect, 'button');
    expect(screen.getAllByRole('listitem').map((x) => x.textContent)).toEqual([
      'Power-management IC100 %',
      'Button and wake line0 %',
    ]);
    await person.selectOptions(screen.getByLabelText('Next test'), 'Flip the plug');
    await person.selectOptions(screen.getByLabelText('Expected result'), 'the same');
    await person.selectOptions(screen.getByLabelText('Next test'), '');
    expect(screen.queryByLabelText('Expected result')).toBeNull();
    await person.selectOptions(screen.getByLabelText('Next test'), 'Flip the plug');
    await person.selectOptions(screen.getByLabelText('Expected result'), 'the same');
    await person.click(send);
    await waitFor(() =>
      expect(call).toHaveBeenCalledWith({
        jobId: 900000001,
        pattern: 'no-draw',
        shares: [
          { circuit: 'pmic', percent: 100 },
          { circuit: 'button', percent: 0 },
        ],
        test: 'Flip the plug',
        expects: 'the same',
      }),
    );
  });

  test('with the keyboard a suspect is added by Enter or by going on, not by the letters on the way to it', () => {
    show(<CallForm practice={practice} />);
    const suspect = screen.getByRole('combobox', { name: 'Suspect' });
    fireEvent.keyDown(suspect, { key: 'P' });
    fireEvent.change(suspect, { target: { value: 'pmic' } });
    fireEvent.change(suspect, { target: { value: 'button' } });
    expect(screen.queryAllByRole('listitem')).toHaveLength(0);
    fireEvent.keyDown(suspect, { key: 'Enter' });
    expect(screen.getAllByRole('listitem').map((x) => x.textContent)).toEqual(['Button and wake line100 %']);
    fireEvent.keyDown(suspect, { key: 'ArrowDown' });
    fireEvent.change(suspect, { target: { value: 'pmic' } });
    fireEvent.blur(suspect);
    expect(screen.getAllByRole('listitem')).toHaveLength(2);
  });

  test('what the server refuses is said, and what was entered stays', async () => {
    jest.mocked(call).mockResolvedValue(refused('You have already called this unit. The first call counts.'));
    const { person } = show(<CallForm practice={practice} />);
    await person.selectOptions(screen.getByLabelText('What the run shows'), 'no-draw');
    await person.selectOptions(screen.getByRole('combobox', { name: 'Suspect' }), 'pmic');
    await person.click(screen.getByRole('button', { name: 'Submit call' }));
    await screen.findByText(/The first call counts/);
    expect(screen.getByText('Power-management IC')).not.toBeNull();
  });
});

test('the answer stands beside the call, and what was missed leads to its place in the trace', () => {
  const called = {
    pattern: 'Draws nothing at all',
    shares: [{ id: 'button', name: 'Button and wake line', percent: 100 }],
    test: 'Flip the plug',
    testPoints: 43.6,
    expects: 'the same',
    expectsP: 0.25,
    missed: [
      { says: 'Up to 334 mA.', circuit: 'pmic', run: 'r1', span: [3.5, 18] },
      { says: 'A check.', circuit: 'pmic', run: null, span: null },
    ],
    decided: { says: '2 mA flow: the battery line is whole.', run: 'r1', span: [3.5, 18] },
    engine: {
      pattern: 'Starts to boot, then hangs',
      patternP: 0.9,
      circuits: [{ id: 'pmic', name: 'PMIC', p: 0.6 }],
      next: '',
      nextWhy: '',
    },
  };
  show(<Answer practice={{ ...practice, called } as unknown as Parameters<typeof Answer>[0]['practice']} />);
  const [link, ...others] = screen.getAllByRole('link', { name: 'Show me' });
  expect(others).toHaveLength(1);
  expect(screen.getByText('What decides:').parentElement?.textContent).toContain('the battery line is whole');
  expect(link.getAttribute('href')).toBe('/jobs/900000001?run=r1&at=3.50-18.00#run');
  expect(screen.getByRole('row', { name: /Button and wake line/ }).textContent).toContain('under 1 %');
  expect(screen.getByRole('row', { name: /PMIC/ }).textContent).toContain('0 %');
  expect(screen.getByText(/^You: Flip the plug/).textContent).toBe(
    'You: Flip the plug, 44 of 100 points. You expect “the same”; the engine gives this 25 %.',
  );
});

describe('the bench of a unit', () => {
  test('each feed offers what reads it; the numbers go as they were typed', async () => {
    const { person } = show(<UnitBenchPanel jobId={9} bench={bench} />);
    expect(screen.getByLabelText('Plug flipped')).not.toBeNull();
    await person.selectOptions(screen.getByLabelText('Feed'), 'battery');
    expect((screen.getByLabelText('Instrument') as HTMLSelectElement).value).toBe('bench-logger');
    expect(screen.queryByLabelText('Plug flipped')).toBeNull();
    await person.type(screen.getByLabelText('Limit, A'), '1,5');
    await person.click(screen.getByLabelText('side flex'));
    await person.click(screen.getByRole('button', { name: 'Power it only' }));
    await waitFor(() =>
      expect(switchOn).toHaveBeenCalledWith(
        expect.objectContaining({
          jobId: 9,
          feed: 'battery',
          limitA: 1.5,
          setV: null,
          presses: false,
          unplugged: ['flex'],
        }),
      ),
    );
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/9?run=r1'));
  });

  test('a check says what is seen, or that it not visible here', async () => {
    const { person } = show(<UnitBenchPanel jobId={9} bench={bench} />);
    await person.click(screen.getByRole('button', { name: 'Look' }));
    await screen.findByText('What does the screen show? dark');
    jest.mocked(lookAt).mockResolvedValue(kept(null));
    await person.click(screen.getByRole('button', { name: 'Look' }));
    await screen.findByText(/not visible here/);
  });
});

describe('a display that does not log', () => {
  const watched = { t: [0, 1, 2], volts: [0, 3.85, 3.85], amps: [0, 0.12, 0.34], promptAt: 1, line: 'battery 3.85V: ' };

  test('runs once in real time, says when it was pressed, and can be watched again', () => {
    jest.useFakeTimers();
    show(<WatchDisplay jobId={9} watched={watched} onDone={() => undefined} />);
    const display = (): string => screen.getByRole('status').textContent ?? '';
    expect(display()).toContain('0.00 V');
    act(() => void jest.advanceTimersByTime(1250));
    expect(display()).toContain('0.120 A');
    expect(screen.getByText('1 s · pressed')).not.toBeNull();
    act(() => void jest.advanceTimersByTime(5000));
    expect(display()).toContain('0.340 A');
    act(() => screen.getByRole('button', { name: 'Watch again' }).click());
    expect(display()).toContain('0.00 V');
  });

  test('what was read is kept as a typed run; what cannot be read stays to be corrected', async () => {
    jest.mocked(typeRun).mockResolvedValue(refused('column 20: expected a number'));
    const done = jest.fn();
    const { person } = show(<WatchDisplay jobId={9} watched={watched} onDone={done} />);
    const keep = screen.getByRole('button', { name: 'Save my readings' });
    expect(keep.getAttribute('aria-disabled')).toBe('true');
    await person.type(screen.getByLabelText('Your readings'), '0 | prompt 0.34 hold');
    await person.click(keep);
    await screen.findByText(/expected a number/);
    expect(done).not.toHaveBeenCalled();
    jest.mocked(typeRun).mockResolvedValue(kept('r1'));
    await person.click(keep);
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/9?run=r1'));
    expect(typeRun).toHaveBeenLastCalledWith({ jobId: 9, line: 'battery 3.85V: 0 | prompt 0.34 hold' });
  });
});

describe('a lesson', () => {
  const picture = { t0: 0, t1: 1, mean: [], high: [], volts: [], promptAt: null, points: [], feed: 'supply' };
  const asked = (index: number, over: object = {}) => ({
    index,
    asks: `Question ${index}?`,
    options: [],
    unit: 'mA',
    picture: null,
    answer: null,
    again: null,
    ...over,
  });
  const given = (isRight: boolean) => ({
    given: '2',
    isRight,
    right: '2 mA',
    why: 'It rests.',
    whyNot: isRight ? '' : 'That is the peak.',
  });
  const lesson = (over: Partial<Lesson>): Lesson => ({
    id: 'levels',
    number: 1,
    of: 12,
    minutes: 10,
    title: 'Units and levels',
    idea: 'One idea.',
    text: [],
    caution: 'Leads can burn.',
    circuits: [{ name: 'Storage', explains: 'Holds the data.' }],
    picture,
    questions: [asked(0), asked(1, { options: ['13 mA', '130 mA'], unit: '' })],
    units: [{ index: 0, jobId: null, isCalled: false, isFinished: false }],
    isDone: false,
    next: null,
    ...over,
  });

  test('asks one question after the other, with its caution, and units at the end', async () => {
    const { person } = show(<LessonView lesson={lesson({})} />);
    expect(screen.getByText('Leads can burn.')).not.toBeNull();
    expect(screen.getByText('Holds the data.')).not.toBeNull();
    expect(screen.queryByText('Question 1?')).toBeNull();
    expect(screen.queryByRole('button', { name: 'Start' })).toBeNull();
    jest.mocked(answer).mockResolvedValue(refused('Answer: "x" is not possible; expected a number in mA.'));
    await person.type(screen.getByLabelText('In mA'), 'x');
    await person.click(screen.getByRole('button', { name: 'Answer' }));
    await screen.findByText(/expected a number/);
    expect((screen.getByLabelText('In mA') as HTMLInputElement).value).toBe('x');
  });

  test('what was wrong comes again with other numbers', async () => {
    const wrong = asked(0, {
      answer: given(false),
      again: { asks: 'The same with 45 mA?', options: [], picture: null },
    });
    const { person } = show(<LessonView lesson={lesson({ questions: [wrong] })} />);
    expect(screen.getByText(/Question 0/)).not.toBeNull();
    await person.click(screen.getByRole('button', { name: 'Try again' }));
    expect(screen.getByText(/The same with 45 mA/)).not.toBeNull();
    expect(screen.getByLabelText('In mA')).not.toBeNull();
  });

  test('says what was right and why, and takes the unit', async () => {
    jest.mocked(takeLessonUnit).mockResolvedValue(kept(900000004));
    const questions = [
      asked(0, { answer: given(true) }),
      asked(1, { options: ['13 mA', '130 mA'], answer: given(false) }),
    ];
    const { person } = show(<LessonView lesson={lesson({ questions })} />);
    expect(within(screen.getByRole('region', { name: 'Question 1' })).getByRole('status').textContent).toBe(
      'Right. It rests.',
    );
    expect(screen.getByRole('region', { name: 'Question 2' }).textContent).toContain(
      '1?No. That is the peak. The answer is “2 mA”. It rests.',
    );
    await person.click(screen.getByRole('button', { name: 'Start' }));
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/900000004'));
  });
});

describe('silhouettes', () => {
  const card = (pattern: string): Card =>
    ({
      pattern,
      picture: {
        t0: 0,
        t1: 3,
        mean: [0, 1, 2],
        high: [0, 1, 2],
        volts: [4, 4, 4],
        promptAt: 1,
        points: [],
        feed: 'supply',
      },
      options: [
        { id: 'no-draw', name: 'Draws nothing at all' },
        { id: 'restart-loop', name: 'Boot loop' },
      ],
      from: 'job 12',
    }) as Card;

  test('a name counts, silence counts as not known, and the sum is said', () => {
    jest.useFakeTimers();
    show(<CardsView cards={[card('no-draw'), card('restart-loop')]} />);
    const press = (name: RegExp): void => act(() => screen.getByRole('button', { name }).click());
    press(/Start/);
    press(/Draws nothing at all/);
    expect(nameCard).toHaveBeenCalledWith({ pattern: 'no-draw', said: 'no-draw' });
    expect(screen.getByRole('status').textContent).toContain('Right. From job 12.');
    press(/Next/);
    act(() => void jest.advanceTimersByTime(6000));
    expect(nameCard).toHaveBeenLastCalledWith({ pattern: 'restart-loop', said: null });
    expect(screen.getByRole('status').textContent).toContain('Time is up');
    press(/Next/);
    expect(screen.getByRole('status').textContent).toContain('1 of 2 right');
  });
});
