import fc from 'fast-check';
import { outlookOf as played, type LookAheadRules, type OpenTest, type Outlook } from './look-ahead.ts';

const rules: LookAheadRules = {
  decidedFrom: 0.85,
  minShare: 0.01,
  plausibleFrom: 0.002,
  minBits: 0.02,
  openingMinutes: (reached, depth) => [0, 6, 10][Math.max(depth, reached)] - [0, 6, 10][reached],
};
const outlookOf = (posterior: number[], groups: number[], tests: OpenTest[], reached: number): Outlook =>
  played(posterior, groups, tests, reached, rules);

const openTest = (minutes: number, depth: number, outcomes: number[][]): OpenTest => ({
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
    expect(outlook.minutes).toBeCloseTo(4 + 6, 6);
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
          const most = tests.reduce((s, t) => s + t.minutes, 0) + 10;
          expect(outlook.minutes).toBeLessThanOrEqual(most + 1e-9);
          expect(outlook.decided).toBeGreaterThanOrEqual(0);
          expect(outlook.decided).toBeLessThanOrEqual(1 + 1e-9);
        },
      ),
    );
  });
});
