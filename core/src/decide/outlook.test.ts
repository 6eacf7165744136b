import fc from 'fast-check';
import { circuitIds } from '../case/index.ts';
import { bareCase } from '../case/index.ts';
import policy from './data/policy.json';
import { outlookOf, sayOutlook, type OpenTest } from './outlook.ts';
import { stopAdvice, worthOfGoingOn } from './stop.ts';

const openTest = (minutes: number, depth: number, outcomes: number[][]): OpenTest => ({
  check: 'screen',
  minutes,
  depth,
  outcomes,
});

describe('how long until it is decided', () => {
  test('a test that splits two suspects cleanly decides it in its own minutes', () => {
    const outlook = outlookOf(
      [0.5, 0.5],
      [0, 1],
      [
        openTest(3, 0, [
          [1, 0],
          [0, 1],
        ]),
      ],
      0,
    );
    expect(outlook).toEqual({ minutes: 3, decided: 1 });
  });
  test('the way into the device counts once', () => {
    const half = openTest(2, 1, [
      [1, 1, 0, 0],
      [0, 0, 1, 1],
    ]);
    const other = openTest(2, 1, [
      [1, 0, 1, 0],
      [0, 1, 0, 1],
    ]);
    const outlook = outlookOf([0.25, 0.25, 0.25, 0.25], [0, 1, 2, 3], [half, other], 0);
    expect(outlook.minutes).toBeCloseTo(4 + policy.depthMinutes[1], 6);
    expect(outlook.decided).toBeCloseTo(1, 6);
  });
  test('elements of one circuit need not be told apart', () => {
    expect(
      outlookOf(
        [0.5, 0.5],
        [4, 4],
        [
          openTest(3, 0, [
            [1, 0],
            [0, 1],
          ]),
        ],
        0,
      ),
    ).toEqual({ minutes: 0, decided: 1 });
  });
  test('a test that tells nothing is not made', () => {
    expect(
      outlookOf(
        [0.5, 0.5],
        [0, 1],
        [
          openTest(3, 0, [
            [0.5, 0.5],
            [0.5, 0.5],
          ]),
        ],
        0,
      ),
    ).toEqual({
      minutes: 0,
      decided: 0,
    });
  });
  test('never more than all tests together, never more than certain', () => {
    const model = fc.array(fc.array(fc.double({ min: 0.01, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 }), {
      minLength: 2,
      maxLength: 4,
    });
    fc.assert(
      fc.property(
        fc.array(model, { minLength: 1, maxLength: 4 }),
        fc.array(fc.double({ min: 0.05, max: 1, noNaN: true }), { minLength: 4, maxLength: 4 }),
        (models, raw) => {
          const sum = raw.reduce((a, b) => a + b, 0);
          const tests = models.map((m, k) => {
            const columns = [0, 1, 2, 3].map((h) => m.reduce((s, row) => s + row[h], 0));
            return openTest(
              1 + k,
              k % 3,
              m.map((row) => row.map((x, h) => x / columns[h])),
            );
          });
          const outlook = outlookOf(
            raw.map((x) => x / sum),
            [0, 1, 2, 3],
            tests,
            0,
          );
          const most = tests.reduce((s, t) => s + t.minutes, 0) + policy.depthMinutes[1] + policy.depthMinutes[2];
          expect(outlook.minutes).toBeLessThanOrEqual(most + 1e-9);
          expect(outlook.decided).toBeGreaterThanOrEqual(0);
          expect(outlook.decided).toBeLessThanOrEqual(1 + 1e-9);
        },
      ),
    );
  });
  test('is said in words, or not at all', () => {
    expect(sayOutlook({ minutes: 0, decided: 1 })).toBe('');
    expect(sayOutlook({ minutes: 12.4, decided: 0.5 })).toMatch(/12 minutes.*50 %/);
    expect(sayOutlook({ minutes: 12.4, decided: 0.02 })).toMatch(/narrow it further/);
  });
});

describe('whether going on pays', () => {
  const believed = (p: Partial<Record<string, number>>): number[] => circuitIds.map((id) => p[id] ?? 0);
  const value = bareCase({ class: 'phone', model: '', profile: null }, [], 'x');

  test('worked example: a known display pays its fee less the bench time', () => {
    const { fee, hourlyCost, success, repairMinutes } = policy.economy;
    const gain = success * fee - (hourlyCost * repairMinutes.display) / 60;
    expect(worthOfGoingOn(believed({ display: 1 }), { minutes: 0, decided: 1 })).toBeCloseTo(gain, 6);
    expect(worthOfGoingOn(believed({ display: 1 }), { minutes: 30, decided: 1 })).toBeCloseTo(gain - hourlyCost / 2, 6);
  });
  test('what this shop does not repair is worth nothing, and its testing is lost', () => {
    expect(worthOfGoingOn(believed({ 'core.soc': 1 }), { minutes: 60, decided: 1 })).toBeCloseTo(
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
      /isolate/,
    );
  });
});
