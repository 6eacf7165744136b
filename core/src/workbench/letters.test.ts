import { circuitTypes } from '../catalogue/index.ts';
import { declineText, outOfTen, quoteText, type LetterFacts } from './letters.ts';

const facts = (over: Partial<LetterFacts> = {}): LetterFacts => ({
  label: 'lending tablet',
  complaint: 'Stays black',
  circuit: 'display',
  p: 0.72,
  fee: 90,
  diagnosisFee: 0,
  success: 0.8,
  ready: 'Thursday',
  dataWanted: false,
  dataFee: 60,
  ...over,
});

test('a quote says what it probably is, what it costs, how often that works, and what else it costs', () => {
  const text = quoteText(facts());
  expect(text).toContain('You reported: "Stays black"');
  expect(text).toContain(`probably in ${circuitTypes.display.plain}.`);
  expect(text).toContain(
    'The repair costs 90 €. A repair like this works in about 8 of 10 cases. If it cannot be repaired, you pay nothing.',
  );
  expect(text).toContain('ready by Thursday');
  expect(text).toContain('may be lost');
  expect(quoteText(facts({ ready: null, diagnosisFee: 15 }))).toMatch(/pay 15 €/);
});

test('what is not known is not named', () => {
  expect(quoteText(facts({ circuit: 'unmodelled', p: 0.9 }))).toContain('do not know yet');
});

test('who stops says so, and what can still be done for the data', () => {
  expect(declineText(facts({ dataWanted: true }))).toContain('it costs 60 €');
  expect(declineText(facts({ diagnosisFee: 15 }))).toContain('The diagnosis costs 15 €');
});

test('shares as they are said across a counter', () => {
  expect([0.01, 0.3, 0.84, 0.99].map(outOfTen)).toEqual([
    'in fewer than 1 of 20 cases',
    'in about 3 of 10 cases',
    'in about 8 of 10 cases',
    'nearly always',
  ]);
});
