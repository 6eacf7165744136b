import { breakEvenWords, changeWords, knowingWords } from './words';

test('what the tests are worth', () => {
  expect(knowingWords({ knowing: { blind: 20, certain: 31, tests: 22, cost: 12 } })).toBe(
    'Knowing the circuit for certain would be worth 31 €. The tests ahead are worth 22 € and cost 12 €.',
  );
  expect(knowingWords({ knowing: { blind: 0, certain: 0, tests: 0, cost: 12 } })).toContain('no repair pays');
  expect(knowingWords({ knowing: { blind: 40, certain: 0, tests: 0, cost: 0 } })).toContain(
    'Act on the leading suspect',
  );
});

test('how often repairs must succeed, and where that figure is from', () => {
  const given = { breakEven: 0.43, success: 0.8, ownCases: { begun: 14, succeeded: 11 }, isRepairedHere: true };
  expect(breakEvenWords(given)).toBe(
    'Continuing pays if 43 % of repairs succeed; 80 % do (11 of 14 here, plus the shop policy).',
  );
  expect(breakEvenWords({ ...given, breakEven: null })).toContain('would not pay even if');
  expect(breakEvenWords({ ...given, breakEven: 0, ownCases: { begun: 0, succeeded: 0 } })).toContain(
    'by the shop policy',
  );
  expect(breakEvenWords({ ...given, isRepairedHere: false })).toContain('does not repair');
});

test('where the answer changes', () => {
  const curve = {
    circuit: 'display' as const,
    p: 0.6,
    points: [],
    changes: [{ p: 0.25, from: 'stop' as const, to: 'go-on' as const }],
  };
  expect(changeWords({ curve }, 'Display')).toEqual([
    'From 25 % for Display it pays more to continue than to stop. It is 60 % now.',
  ]);
});
