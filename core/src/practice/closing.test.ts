import { outcomeGrades, type OutcomeGrade } from '../catalogue/index.ts';
import { parseFault, shippedProfile, type Profile } from '../twin/index.ts';
import { judgeClosing } from './index.ts';

const device = shippedProfile('tallgate-moorcall-2') as Profile;
const faults = [parseFault(device, 'mute:storage-chip')];
const right = (of: { faults: typeof faults; left: typeof faults; supported?: OutcomeGrade | null }): OutcomeGrade[] =>
  outcomeGrades.filter((g) => judgeClosing(g, { device, supported: null, ...of }).isRight);

test('what is still in it is not repaired, and did not go away', () => {
  expect(right({ faults, left: faults })).toEqual(['not-found', 'declined', 'not-economical']);
  expect(judgeClosing('cleared', { device, faults, left: faults, supported: 'cleared' }).says).toMatch(
    /^The fault is still in it: storage.*\. Record a run/,
  );
});

test('what is gone was repaired; measured is only what a measurement shows', () => {
  expect(right({ faults, left: [], supported: 'cleared' })).toEqual(['cleared']);
  expect(right({ faults, left: [], supported: 'measured' })).toEqual(['measured', 'cleared']);
});

test('where nothing was wrong, nothing was found', () => {
  expect(right({ faults: [], left: [] })).toEqual(['not-found']);
});

test('every outcome has a sentence', () => {
  for (const grade of outcomeGrades)
    for (const left of [faults, []])
      expect(judgeClosing(grade, { device, faults, left, supported: null }).says).toMatch(/^[A-Z].*\.$/);
});
