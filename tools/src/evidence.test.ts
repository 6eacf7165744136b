import { readWhole, type PackageFiles } from '@umbral/core';
import {
  caseFiles,
  heldBy,
  heldByTruth,
  readStories,
  readTruth,
  storyFiles,
  type Answer,
  type CaseTruth,
  type Story,
} from './evidence.ts';

/** Files as a zip of evidence holds them. */
function filesOf(contents: Record<string, unknown>): PackageFiles {
  const bytes = (name: string): Uint8Array => new TextEncoder().encode(JSON.stringify(contents[name]));
  return {
    remarks: [],
    stat: (name) => Promise.resolve(name in contents ? { size: bytes(name).length, link: false } : null),
    open: async function* (name) {
      yield bytes(name);
    },
  };
}
const textOf = async (files: PackageFiles, name: string): Promise<unknown> =>
  JSON.parse(new TextDecoder().decode((await readWhole(files, name, 1e6))!));

const story: Story = {
  id: 's1',
  title: 'A press too many',
  device: { expect: { mainV: 4 } },
  intake: { liquid: false },
  steps: [
    {
      say: 'It is plugged in.',
      add: { runs: [{ id: 'r1', file: 'runs/r1.csv' }], intake: { liquid: true } },
      expect: {},
    },
    { say: 'It is looked at.', add: { checks: [{ id: 'look', outcome: 'fine' }], expect: { dcV: 19 } }, expect: {} },
  ],
};
const truth: CaseTruth = {
  id: 'case-1',
  family: 'systematic',
  circuit: 'pmic',
  accept: { stage0: ['pmic', 'mgmt'], stage1: ['pmic'], stage2: ['pmic'] },
  patterns: { r1: ['stall-low'], r2: ['no-draw'] },
  runStages: { r1: 0, r2: 1 },
};
const answer = (over: Partial<Answer> = {}): Answer => ({
  circuits: [
    { id: 'mgmt', p: 0.3 },
    { id: 'pmic', p: 0.5 },
    { id: 'button', p: 0.1 },
    { id: 'clock', p: 0.05 },
  ],
  runs: [{ id: 'r1', pattern: [{ id: 'stall-low', p: 0.9 }] }],
  now: [{ id: 'works', p: 0.7 }],
  next: [
    { kind: 'check', check: 'press-response', why: 'It tells the button apart.' },
    { kind: 'action', action: { kind: 'replace', circuit: 'pmic' } },
  ],
  warnings: ['The pack is swollen: take it out first.'],
  ...over,
});

describe('evidence', () => {
  test('grows step by step: a repair after its first step has nothing of its second', async () => {
    const files = filesOf({ 'index.json': ['s1'], 's1.json': story, 's1/r1.csv': 't_s' });
    const [read] = await readStories(files);
    expect(read).toEqual(story);
    const first = storyFiles(files, read, 1);
    expect(await textOf(first, 'case.json')).toMatchObject({
      intake: { liquid: true },
      device: { expect: { mainV: 4 } },
      checks: [],
    });
    expect(await first.stat('runs/r1.csv')).toMatchObject({ link: false });
    expect(await first.stat('runs/r2.csv')).toBeNull();
    expect(await textOf(storyFiles(files, read, 2), 'case.json')).toMatchObject({
      device: { expect: { mainV: 4, dcV: 19 } },
      runs: [{ id: 'r1' }],
      checks: [{ id: 'look' }],
    });
  });

  test('is found by case and stage, and says what is missing', async () => {
    const files = filesOf({ 'truth.json': { cases: [truth] }, 'cases/case-1/stage1/case.json': { id: 'case-1' } });
    expect(await readTruth(files)).toEqual([truth]);
    expect(await textOf(caseFiles(files, 'case-1', 1), 'case.json')).toEqual({ id: 'case-1' });
    expect(await caseFiles(files, 'case-1', 2).stat('case.json')).toBeNull();
    await expect(readStories(files)).rejects.toThrow('the evidence does not hold this file');
  });

  test.each([
    [{ cause: { first: ['pmic'] } }, true],
    [{ cause: { first: ['mgmt', 'button'] } }, false],
    [{ cause: { top3: ['button'] } }, true],
    [{ cause: { top3: ['clock'] } }, false],
    [{ cause: { atLeast: { pmic: 0.5 } } }, true],
    [{ cause: { atLeast: { nowhere: 0.01 } } }, false],
    [{ cause: { atMost: { mgmt: 0.29 } } }, false],
    [{ cause: { rises: ['pmic'] } }, true],
    [{ cause: { falls: ['pmic'] } }, false],
    [{ pattern: { r1: ['stall-low', 'stall-mid'] } }, true],
    [{ pattern: { r9: ['stall-low'] } }, false],
    [{ now: { works: 0.6 } }, true],
    [{ now: { 'other-fault': 0 } }, false],
    [{ next: { oneOf: [{ check: 'press-response' }] } }, true],
    [{ next: { oneOf: [{ actionKind: 'replace', circuit: 'pmic' }] } }, false],
    [{ next: { oneOf: [{ actionKind: 'replace', circuit: 'pmic' }], within: 2 } }, true],
    [{ next: { oneOf: [{ text: 'BUTTON apart' }] } }, true],
    [{ next: { never: [{ kind: 'action' }] } }, false],
    [{ next: { never: [{ kind: 'action', within: 1 }] } }, true],
    [{ warns: ['Swollen'] }, true],
    [{ warns: ['fire'] }, false],
  ])('%j holds: %s', (expected, holds) => {
    const before = answer({ circuits: [{ id: 'pmic', p: 0.2 }] });
    expect(heldBy(expected, answer(), before).map((h) => h.holds)).toEqual([holds]);
  });

  test('an expectation against the step before holds at no first step', () => {
    expect(heldBy({ cause: { rises: ['pmic'] } }, answer(), null)[0].holds).toBe(false);
  });

  test('is held against what is accepted at its stage', () => {
    expect(heldByTruth(truth, 0, answer())).toMatchObject({ accepted: true, exact: true, said: 0.5, patterns: [true] });
    const wrong = answer({ circuits: [{ id: 'mgmt', p: 0.9 }] });
    expect(heldByTruth(truth, 0, wrong)).toMatchObject({ accepted: true, exact: false, isFalselyCertain: false });
    expect(heldByTruth(truth, 1, wrong)).toMatchObject({
      accepted: false,
      isFalselyCertain: true,
      saysUnknown: false,
      patterns: [true, false],
    });
    const unsure = answer({ runs: [{ id: 'r1', pattern: [{ id: 'unrecognised', p: 0.4 }] }] });
    expect(heldByTruth({ ...truth, family: 'odd' }, 0, unsure)).toMatchObject({ isOdd: true, saysUnknown: true });
  });
});
