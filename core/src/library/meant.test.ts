import { circuitIds, circuitNames, patternIds, patternNames } from '../catalogue/index.ts';
import { meantBy } from './meant.ts';

test.each([
  ['short', 'surge-on-prompt'],
  ['stall', 'stall-mid'],
  ['hangs', 'stall-mid'],
  ['reboot', 'restart-loop'],
  ['leak', 'draw-before-prompt'],
] as const)('people who say %j mean the pattern %s', (word, pattern) => {
  expect(meantBy(word).patterns).toContain(pattern);
});

test('a circuit is found as it is called at a bench; two letters mean only what is called so', () => {
  expect(meantBy('screen').circuits).toEqual(['display']);
  expect(meantBy('Fuse').circuits).toEqual(['input.protection']);
  expect(meantBy('st')).toEqual({ patterns: [], circuits: [] });
  expect(meantBy('moorcall')).toEqual({ patterns: [], circuits: [] });
});

test('every pattern and circuit is found by each longer word of its name', () => {
  for (const [ids, names, of] of [
    [patternIds, patternNames, 'patterns'],
    [circuitIds, circuitNames, 'circuits'],
  ] as const)
    for (const id of ids)
      for (const word of (names as Record<string, string>)[id].split(/\W+/).filter((w) => w.length > 2))
        expect(meantBy(word)[of] as string[]).toContain(id);
});
