import { actionOf, readingOf, typedCase } from '../testing/cases.ts';
import type { Case } from '../case/index.ts';
import { assess } from './index.ts';

const { value, shapes } = typedCase('phone', ['battery 4V limit 3A: 0 | prompt limit']);
const warned = (over: Partial<Case>): string => {
  const { warnings, circuits } = assess({ ...value, ...over }, shapes);
  expect(circuits.length).toBeGreaterThan(3);
  return warnings.join('\n');
};
const split = (id: string) => actionOf(id, 'split', { circuit: null, unit: 'halves', target: 'boards' });

test('boards that are taken apart twice, and a thing that goes back without having come out', () => {
  expect(warned({ actions: [split('a1')] })).not.toMatch(/they already are/);
  expect(warned({ actions: [split('a1'), split('a2')] })).toMatch(
    /Change a2 takes the boards apart, but they already are\./,
  );
  const own = actionOf('a1', 'replace', { circuit: null, unit: 'pack', target: 'own battery', with: 'own' });
  expect(warned({ actions: [own] })).toMatch(
    /Change a1 puts own battery back, but no entry says that it was taken out\./,
  );
  const good = { ...own, id: 'a0', target: 'battery', with: 'good' as const };
  expect(warned({ actions: [good, own] })).not.toMatch(/was taken out/);
});

test('one net for two places that a meter tells apart', () => {
  const readings = [
    readingOf({ mode: 'resistance', value: 0.2, where: 'coil', circuit: null }),
    readingOf({ mode: 'resistance', value: 9000, where: 'pad', circuit: null }),
  ];
  const places = (net: number) => [
    { where: 'coil', circuit: null, net: 3 },
    { where: 'pad', circuit: null, net },
  ];
  expect(warned({ readings, places: places(3) })).toMatch(/Net 3: coil reads short but pad does not/);
  expect(warned({ readings, places: places(4) })).not.toMatch(/not on the same net/);
});

test('what is dated before the change that it follows', () => {
  const action = { ...split('a1'), at: '2026-12-01T11:00:00Z' };
  const runs = [{ ...value.runs[0], after: 'a1', at: '2026-12-01T10:00:00Z' }];
  expect(warned({ actions: [action], runs })).toMatch(/Run r1 is dated before change a1, but is listed after it\./);
  const before = { ...split('a0'), at: '2026-12-01T12:00:00Z' };
  expect(warned({ actions: [before, action] })).toMatch(
    /Change a1 is dated before change a0, but is listed after it\./,
  );
});
