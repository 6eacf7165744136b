import { screen, waitFor, within } from '@testing-library/react';
import type { PracticeHome } from '@/server/work/practice/home';
import type { LearnerView } from '@/server/work/practice/team';
import type { PracticeView as Unit } from '@/server/work/practice/view';
import { kept, refused, show } from '@/testing/show';
import { finish, takeNextUnit, takeTeam } from './actions';
import { PracticeView } from './home-view';
import { TeamView } from './team-view';
import { UnitPanel } from './unit-panel';

const push = jest.fn();
jest.mock('next/navigation', () => ({ useRouter: () => ({ push, refresh: jest.fn() }) }));
jest.mock('./actions', () => ({ finish: jest.fn(), takeNextUnit: jest.fn(), takeTeam: jest.fn() }));
jest.mock('./unit-bench', () => ({ UnitBenchPanel: () => null }));

beforeEach(() => {
  jest.clearAllMocks();
  jest.mocked(finish).mockResolvedValue(kept(undefined));
  jest.mocked(takeNextUnit).mockResolvedValue(kept(900000007));
  jest.mocked(takeTeam).mockResolvedValue(kept(900000008));
});

const figures: PracticeHome['figures'] = {
  units: 0,
  right: 0,
  points: 0,
  enginePoints: 0,
  testPoints: null,
  final: null,
  minutes: 0,
  probes: 0,
  wasted: 0,
  risks: 0,
  calibration: [],
  overTime: [],
};
const home: PracticeHome = {
  course: [
    {
      id: 'levels',
      number: 1,
      title: 'Units and levels',
      idea: 'Read two numbers.',
      questions: 4,
      answered: 0,
      isDone: false,
    },
  ] as PracticeHome['course'],
  open: [],
  figures,
  lastCalls: [],
  mixedUp: [],
  cardsDue: 0,
  choice: { profiles: [] },
  team: null,
};

describe('the page of practice', () => {
  test('leads whoever is new to lesson one, and takes a unit by its key', async () => {
    const { person } = show(<PracticeView home={home} isLead={false} />);
    expect(screen.getByRole('heading', { name: 'New to this? Start here.' })).not.toBeNull();
    expect(screen.getByRole('link', { name: 'Lesson 1: Units and levels' }).getAttribute('href')).toBe(
      '/practice/lessons/levels',
    );
    expect(screen.queryByRole('region', { name: 'Your calls' })).toBeNull();
    await person.keyboard('x');
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/900000007'));
  });

  test('says how one calls: points, sureness, and how both moved', () => {
    const called = {
      ...figures,
      units: 20,
      right: 13,
      points: 41.4,
      enginePoints: 60,
      testPoints: 72.2,
      final: { points: 88, engine: 97, of: 4 },
      calibration: [{ said: 0.9, right: 7, of: 10 }],
      overTime: [
        { said: 0.9, right: 5, of: 10 },
        { said: 0.75, right: 8, of: 10 },
      ],
    };
    const mixedUp = [{ circuits: ['Memory', 'Storage'], wrong: 2, lastRight: null, isDue: true }];
    show(<PracticeView home={{ ...home, figures: called, mixedUp, cardsDue: 3 }} isLead />);
    const calls = screen.getByRole('region', { name: 'Your calls' });
    expect(calls.textContent).toContain('41 points on average; the engine got 60');
    expect(calls.textContent).toContain('next tests 72 of 100');
    expect(calls.textContent).toContain('You say 90 % and are right 7 of 10 times.');
    expect(calls.textContent).toContain('100After measuring: 88 points; the engine 97 (4 units).How');
    expect(
      within(calls)
        .getAllByRole('row')
        .map((r) => r.textContent),
    ).toEqual(['Sure 90 %right 5 of 10', 'Sure 75 %right 8 of 10']);
    expect(screen.getByRole('region', { name: 'What you mix up' }).textContent).toContain(
      'Memory and Storage2 times, not right yet · due now',
    );
    expect(screen.getByRole('link', { name: 'Pattern drill: 3 due' })).not.toBeNull();
    expect(screen.getByRole('link', { name: 'Skills by person' })).not.toBeNull();
  });

  test('the unit of the week is begun or gone on with, and shows how the others did', async () => {
    const team = { id: 1, week: '2026-11-23', model: 'Tallgate Moorcall 2', jobId: null, results: [] };
    const { person } = show(<PracticeView home={{ ...home, team }} isLead={false} />);
    await person.click(screen.getByRole('button', { name: 'Try it' }));
    await waitFor(() => expect(push).toHaveBeenCalledWith('/jobs/900000008'));
    const results = [{ name: 'Ada Quill', points: 66.6, right: true }];
    show(<PracticeView home={{ ...home, team: { ...team, jobId: 4, results } }} isLead={false} />);
    expect(screen.getByRole('button', { name: 'Continue' })).not.toBeNull();
    expect(screen.getByText('67 points, right')).not.toBeNull();
  });
});

test('the lead sees who is ready for what, and what it stands on', () => {
  const learner: LearnerView = {
    id: 2,
    name: 'Ben Ostrow',
    figures: { ...figures, units: 7, right: 6, points: 60, enginePoints: 65, risks: 1 },
    lessonsDone: 3,
    byClass: [{ name: 'Phone', ready: { isReady: true, says: 'right in 6 of the last 6, 60 points' } }],
    byDepth: [{ name: 'inside, probing', ready: { isReady: false, says: '2 of 6 units' } }],
    last: [{ jobId: 900000003, circuit: 'core.memory', said: 'core.storage', points: -40.2 }],
  };
  show(<TeamView learners={[learner]} team={null} choice={{ profiles: [] }} />);
  const of = screen.getByRole('region', { name: 'Ben Ostrow' });
  expect(of.textContent).toContain('of 12 lessons · 7 units, right in 6 · 60 points; the engine 65 · 1 risk takenBy');
  expect(of.textContent).toContain('Phone: ready right in 6 of the last 6');
  expect(of.textContent).toContain('inside, probing: not yet 2 of 6 units');
  expect(of.textContent).toContain('Memory, called Storage: -40 points');
});

describe('a unit at its end', () => {
  const unit = {
    jobId: 900000001,
    isMine: true,
    lesson: null,
    bench: {},
    patterns: [],
    circuits: [
      { id: 'pmic', name: 'Power-management IC' },
      { id: 'button', name: 'Button and wake line' },
    ],
    tests: [],
    called: {
      pattern: 'Draws nothing at all',
      shares: [{ id: 'button', name: 'Button and wake line', percent: 100 }],
      test: '',
      testPoints: null,
      expects: '',
      expectsP: null,
      missed: [],
      decided: null,
      isUndecided: false,
      engine: { pattern: 'Draws nothing at all', patternP: 0.9, circuits: [], next: '', nextWhy: '' },
    },
    isWorkedOn: false,
    grades: [{ id: 'cleared', name: 'fixed, cause not measured' }],
    tally: { minutes: 12, cost: 8, probes: 1, changes: 0, wasted: 0, risks: [] },
    truth: null,
  } as unknown as Unit;

  test('where nothing was done since the call it is just finished', async () => {
    const { person } = show(<UnitPanel practice={unit} hasRuns />);
    expect(screen.queryByRole('heading', { name: 'What do you think now?' })).toBeNull();
    await person.click(screen.getByRole('button', { name: 'Finish: show the fault' }));
    await waitFor(() => expect(finish).toHaveBeenCalledWith({ jobId: 900000001, shares: null, grade: '', fix: '' }));
  });

  test('after more work it is said again, from the call on; what is refused is said', async () => {
    const { person } = show(<UnitPanel practice={{ ...unit, isWorkedOn: true }} hasRuns />);
    await person.selectOptions(screen.getByRole('combobox', { name: 'Suspect' }), 'pmic');
    await person.click(screen.getByRole('button', { name: 'Take Button and wake line out' }));
    jest.mocked(finish).mockResolvedValueOnce(refused('This unit is finished.'));
    await person.click(screen.getByRole('button', { name: 'Finish: show the fault' }));
    await waitFor(() =>
      expect(finish).toHaveBeenCalledWith({
        jobId: 900000001,
        shares: [{ circuit: 'pmic', percent: 100 }],
        grade: '',
        fix: '',
      }),
    );
    expect((await screen.findByRole('alert')).textContent).toBe('This unit is finished.');
  });

  test('what is said at the end begins from the call, also where it was made on this page', () => {
    const { rerender } = show(<UnitPanel practice={{ ...unit, called: null }} hasRuns={false} />);
    rerender(<UnitPanel practice={{ ...unit, isWorkedOn: true }} hasRuns />);
    expect(screen.getByRole('slider', { name: /Button and wake line/ })).not.toBeNull();
  });

  test('it is closed as a job is, and what is wrong with that is said', async () => {
    const { person, rerender } = show(<UnitPanel practice={unit} hasRuns />);
    await person.selectOptions(screen.getByLabelText('How would you close the job?'), 'cleared');
    await person.type(screen.getByLabelText('What would you write in the report?'), 'New memory.');
    await person.click(screen.getByRole('button', { name: 'Finish: show the fault' }));
    await waitFor(() =>
      expect(finish).toHaveBeenCalledWith({ jobId: 900000001, shares: null, grade: 'cleared', fix: 'New memory.' }),
    );
    const closing = {
      name: 'fixed, cause not measured',
      isRight: false,
      says: 'The fault is still in it: memory: dead.',
      open: ['Start: not done'],
    };
    const truth = { circuit: 'Memory', says: 'memory: dead', decided: null, first: null, last: null, closing };
    rerender(<UnitPanel practice={{ ...unit, truth }} hasRuns />);
    const was = screen.getByRole('region', { name: 'What it was' });
    expect(was.textContent).toContain('Wrong outcome: “fixed, cause not measured”. The fault is still in it');
    expect(was.textContent).toContain('Start: not done');
    expect(screen.getByRole('link', { name: 'Read the report' }).getAttribute('href')).toBe('/jobs/900000001/report');
  });

  test('where nothing shows the circuit yet, that is said and not that the call was right', () => {
    const called = { ...(unit.called as NonNullable<Unit['called']>), isUndecided: true };
    show(<UnitPanel practice={{ ...unit, called }} hasRuns />);
    expect(screen.getByText(/does not show which circuit it is/)).not.toBeNull();
    expect(screen.queryByText(/agrees with the evidence/)).toBeNull();
  });

  test('both answers have their points beside the engine’s', () => {
    const truth = {
      circuit: 'Memory',
      says: 'memory: dead',
      decided: null,
      closing: null,
      first: { points: 12, engine: 40 },
      last: { points: 95, engine: 99 },
    };
    show(<UnitPanel practice={{ ...unit, truth }} hasRuns />);
    expect(screen.getByRole('region', { name: 'What it was' }).textContent).toContain(
      'points (engine: 40) for your call, 95 points (engine: 99) at the end.0',
    );
    expect(screen.queryByRole('button', { name: /Finish/ })).toBeNull();
  });
});
