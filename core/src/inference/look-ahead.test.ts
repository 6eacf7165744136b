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

  const clean = (minutes: number, depth = 0): OpenTest =>
    openTest(minutes, depth, [
      [1, 0],
      [0, 1],
    ]);

  test('of two tests that tell the same the shorter one is made, whichever is listed first', () => {
    for (const tests of [
      [clean(5), clean(2)],
      [clean(2), clean(5)],
    ])
      expect(outlookOf([0.5, 0.5], [0, 1], tests, 0)).toEqual({ minutes: 2, decided: 1 });
  });

  test('a weak test that takes a moment goes before a strong one that opens the device', () => {
    const weak = openTest(0.5, 0, [
      [0.9, 0.2],
      [0.1, 0.8],
    ]);
    const outlook = outlookOf([0.5, 0.5], [0, 1], [clean(4, 2), weak], 0);
    // 0.82 after the first outcome and 0.89 after the second, which is enough; the strong one follows the first.
    const first = 0.5 * 0.9 + 0.5 * 0.2;
    expect(outlook.minutes).toBeCloseTo(0.5 + first * 14, 9);
    expect(outlook.decided).toBeCloseTo(1, 9);
  });

  test('no test is worth more for taking less than a tenth of a minute', () => {
    const nearly = openTest(0, 0, [
      [0.9, 0.1],
      [0.1, 0.9],
    ]);
    // 0.53 bit in a tenth of a minute against 1 bit in 0.15.
    expect(outlookOf([0.5, 0.5], [0, 1], [nearly, clean(0.15)], 0).minutes).toBeCloseTo(0.15, 9);
  });

  test('it ends as soon as one group is sure enough, and not before', () => {
    expect(outlookOf([0.85, 0.15], [0, 1], [clean(3)], 0)).toEqual({ minutes: 0, decided: 1 });
    expect(outlookOf([0.84, 0.16], [0, 1], [clean(3)], 0).minutes).toBe(3);
  });

  test('what is hardly possible changes nothing: its test is not waited for', () => {
    const only = openTest(3, 0, [
      [1, 1, 0],
      [0, 0, 1],
    ]);
    const posterior = [0.4995, 0.4995, 0.001];
    expect(outlookOf(posterior, [0, 1, 2], [only], 0)).toEqual({ minutes: 0, decided: 0 });
    expect(outlookOf([0, 0], [0, 1], [clean(3)], 0)).toEqual({ minutes: 0, decided: 0 });
    expect(outlookOf([0.001, 0.001], [0, 1], [clean(3)], 0)).toEqual({ minutes: 0, decided: 0 });
  });

  test('a branch that is met too rarely is not followed', () => {
    const rare = openTest(1, 0, [
      [0.996, 0.996],
      [0.004, 0.004],
    ]);
    const told = openTest(2, 0, [
      [0.997, 0, 0.001],
      [0, 0.997, 0.001],
      [0.003, 0.003, 0.998],
    ]);
    expect(outlookOf([0.5, 0.5], [0, 1], [rare], 0).decided).toBe(0);
    const { minutes, decided } = outlookOf([0.5, 0.5], [0, 1], [{ ...told, outcomes: told.outcomes }, clean(9)], 0);
    // Three in a thousand stay open after the first test: nobody goes on for those.
    expect(minutes).toBeCloseTo(2, 9);
    expect(decided).toBeCloseTo(0.997, 9);
  });

  test('a test is made once', () => {
    const half = openTest(2, 0, [
      [0.6, 0.4],
      [0.4, 0.6],
    ]);
    expect(outlookOf([0.5, 0.5], [0, 1], [half], 0)).toEqual({ minutes: 2, decided: 0 });
  });
});
