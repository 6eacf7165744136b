import { circuitIds } from '../catalogue/index.ts';
import { bareCase } from '../case/index.ts';
import policy from './policy.json';
import { sayOutlook } from './say-outlook.ts';
import { stopAdvice, valueOfContinuing } from './stop.ts';

test('the outlook is said in words, or not at all', () => {
  expect(sayOutlook({ minutes: 0, decided: 1 })).toBe('');
  expect(sayOutlook({ minutes: 12.4, decided: 0.5 })).toMatch(/12 minutes.*50 %/);
  expect(sayOutlook({ minutes: 12.4, decided: 0.02 })).toMatch(/narrow it further/);
});

describe('whether going on pays', () => {
  const believed = (p: Partial<Record<string, number>>): number[] => circuitIds.map((id) => p[id] ?? 0);
  const value = bareCase({ class: 'phone', model: '', profile: null }, [], 'x');

  test('worked example: a known display pays its fee less the bench time', () => {
    const { fee, hourlyCost, success, repairMinutes } = policy.economy;
    const gain = success * fee - (hourlyCost * repairMinutes.display) / 60;
    expect(valueOfContinuing(believed({ display: 1 }), { minutes: 0, decided: 1 })).toBeCloseTo(gain, 6);
    expect(valueOfContinuing(believed({ display: 1 }), { minutes: 30, decided: 1 })).toBeCloseTo(
      gain - hourlyCost / 2,
      6,
    );
  });
  test('what this shop does not repair is worth nothing, and its testing is lost', () => {
    expect(valueOfContinuing(believed({ 'core.soc': 1 }), { minutes: 60, decided: 1 })).toBeCloseTo(
      -policy.economy.hourlyCost,
    );
  });
  test('a loss ahead is said, after the tests; a sure refusal before them', () => {
    const lost = stopAdvice(value, believed({ 'core.soc': 0.5, 'core.memory': 0.5 }), { minutes: 90, decided: 0.2 });
    expect(lost).toMatchObject({ first: false, why: expect.stringMatching(/not economical/) });
    expect(stopAdvice(value, believed({ 'core.soc': 0.9, display: 0.1 }), { minutes: 2, decided: 1 })?.first).toBe(
      true,
    );
    expect(stopAdvice(value, believed({ display: 0.6, button: 0.4 }), { minutes: 2, decided: 1 })).toBeNull();
  });
  test('a swollen cell stops everything', () => {
    const swollen = { ...value, intake: { ...value.intake, batterySwollen: true } };
    expect(stopAdvice(swollen, believed({ display: 0.6, button: 0.4 }), { minutes: 2, decided: 1 })?.why).toMatch(
      /fire-safe place/,
    );
  });
});
