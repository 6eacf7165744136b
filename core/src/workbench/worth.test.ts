import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import { repairMinutes, usualShop } from '../decide/index.ts';
import {
  bestOption,
  breakEvenSuccess,
  inWords,
  learnedSuccess,
  worthCurve,
  worthOf,
  valueOfInformation,
  type WorthInput,
} from './worth.ts';
import settings from './worth.json';

const believed = (p: Partial<Record<string, number>>): number[] => circuitIds.map((id) => p[id] ?? 0);
const shop = { ...usualShop, fee: 100, hourlyCost: 60, success: 0.8, dataFee: 60 };
const input = (over: Partial<WorthInput> = {}): WorthInput => ({
  circuits: believed({ display: 0.6, 'core.soc': 0.4 }),
  outlook: { minutes: 10, decided: 1 },
  shop,
  deviceClass: 'phone',
  fee: null,
  diagnosisFee: 0,
  dataWanted: false,
  approval: 1,
  ...over,
});

test('worked example: a display at 60 %, a processor that is not done here at 40 %', () => {
  const worth = worthOf(input());
  expect(worth['go-on']).toBeCloseTo(0.6 * (0.8 * 100 - repairMinutes('display')) - 10, 6);
  expect(worth.stop).toBeCloseTo(-settings.stopMinutes, 6);
  expect(worth.ask).toBeNull();
  expect(worth.data).toBeNull();
  expect(bestOption(worth)).toBe('go-on');
});

test('asking first pays where the tests are long and the customer may decline', () => {
  const long = input({ outlook: { minutes: 40, decided: 1 }, approval: 0.4 });
  const { ask, 'go-on': goOn } = worthOf(long);
  expect(ask).toBeGreaterThan(goOn as number);
  const short = worthOf(input({ outlook: { minutes: 1, decided: 1 }, approval: 0.99 }));
  expect(short['go-on']).toBeCloseTo(short.ask as number, 0);
});

test('only the data: what is stored comes out of most devices, out of a dead storage hardly', () => {
  const screen = worthOf(input({ circuits: believed({ display: 1 }), dataWanted: true })).data as number;
  const storage = worthOf(input({ circuits: believed({ 'core.storage': 1 }), dataWanted: true })).data as number;
  expect(screen).toBeCloseTo(60 * settings.dataChance.usual - settings.dataMinutes, 6);
  expect(storage).toBeLessThan(screen);
});

test('where the answer changes: exactly where two lines meet', () => {
  const asked = input({ circuits: believed({ display: 0.6, 'core.soc': 0.4 }), outlook: { minutes: 20, decided: 1 } });
  const { changes, circuit } = worthCurve(asked);
  expect(circuit).toBe('display');
  expect(changes).toHaveLength(1);
  // 55 p - 20 = -6
  expect(changes[0].p).toBeCloseTo(14 / (80 - repairMinutes('display')), 5);
  expect(changes[0]).toMatchObject({ from: 'stop', to: 'go-on' });
});

test('the share of repairs that must succeed', () => {
  const share = breakEvenSuccess(input({ outlook: { minutes: 20, decided: 1 } })) as number;
  // 0.6 (100 s - 25) - 20 = -6
  expect(share).toBeCloseTo((14 / 0.6 + repairMinutes('display')) / 100, 5);
  expect(
    breakEvenSuccess(input({ circuits: believed({ 'core.soc': 1 }), outlook: { minutes: 90, decided: 1 } })),
  ).toBeNull();
});

describe('what knowing is worth', () => {
  test('nothing where the circuit is known; more the more even the suspects are', () => {
    const known = valueOfInformation(input({ circuits: believed({ display: 1 }) }));
    expect(known.certain).toBeCloseTo(0, 9);
    const even = valueOfInformation(input({ circuits: believed({ display: 0.5, button: 0.5 }) }));
    expect(even.certain).toBeGreaterThan(20);
  });
  test('no test is worth more than certainty, and nothing is worth less than nothing', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.001, max: 1, noNaN: true }), {
          minLength: circuitIds.length,
          maxLength: circuitIds.length,
        }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (weights, decided) => {
          const sum = weights.reduce((a, b) => a + b, 0);
          const worth = valueOfInformation(
            input({ circuits: weights.map((w) => w / sum), outlook: { minutes: 12, decided } }),
          );
          expect(worth.blind).toBeGreaterThanOrEqual(0);
          expect(worth.tests).toBeLessThanOrEqual(worth.certain + 1e-9);
          // The planned tests, and at the board what they do not decide.
          expect(worth.cost).toBeGreaterThanOrEqual(12 - 1e-9);
        },
      ),
    );
  });
});

test('chances of success move from the stated share to what was met', () => {
  const learned = learnedSuccess(
    [
      { circuit: 'display', begun: 36, succeeded: 36 },
      { circuit: 'pmic', begun: 1, succeeded: 0 },
      { circuit: 'button', begun: 0, succeeded: 0 },
    ],
    0.8,
    4,
  );
  expect(learned.display).toBeCloseTo((36 + 3.2) / 40, 9);
  expect(learned.pmic).toBeCloseTo(3.2 / 5, 9);
  expect(learned.button).toBeUndefined();
});

test('percentages as they are said', () => {
  expect([0.99, 0.9, 0.7, 0.5, 0.3, 0.1].map(inWords)).toEqual([
    'almost certainly',
    'very probably',
    'probably',
    'as likely as not',
    'possibly',
    'hardly',
  ]);
});
