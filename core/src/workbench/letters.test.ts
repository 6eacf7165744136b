import { circuitTypes } from '../catalogue/index.ts';
import { declineText, outOfTen, quoteText, type LetterFacts } from './letters.ts';

const facts = (over: Partial<LetterFacts> = {}): LetterFacts => ({
  shop: { name: 'Hillside Library Service', contact: 'extension 41' },
  date: 'Monday 2 March 2026',
  validUntil: 'Monday 16 March',
  label: 'lending tablet',
  complaint: 'Stays black',
  circuit: 'display',
  p: 0.72,
  fee: 90,
  diagnosisFee: 0,
  success: 0.8,
  isDoneHere: true,
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
    'The repair costs 90 € and works in about 8 of 10 cases. If it cannot be repaired, you pay nothing.',
  );
  expect(text).toContain('ready by Thursday');
  expect(text).toContain('may be lost');
  expect(quoteText(facts({ ready: null, diagnosisFee: 15 }))).toMatch(/pay 15 €/);
});

test('a quote says who writes it, when, and until when its price holds', () => {
  expect(quoteText(facts()).split('\n').slice(0, 3)).toEqual([
    'Hillside Library Service',
    'extension 41',
    'Monday 2 March 2026',
  ]);
  expect(quoteText(facts())).toContain('This price holds until Monday 16 March.');
  expect(quoteText(facts({ shop: { name: '', contact: '' } })).startsWith('Monday 2 March 2026')).toBe(true);
});

test('a repair of what is only likely is never said to work nearly always', () => {
  for (let p = 0; p <= 1; p += 0.01) {
    const text = quoteText(facts({ p, success: 0.98 }));
    if (p < 0.65) {
      expect(text).toContain('If it is there, the repair costs 90 € and works in nearly all cases.');
      expect(text).toContain('we ask you before it costs more');
    } else expect(text).toMatch(/is (probably|very probably|almost certainly) in /);
    expect(text).not.toContain('as likely as not');
  }
});

test('what the shop does not repair is not offered as a repair', () => {
  expect(quoteText(facts({ isDoneHere: false, p: 0.3 }))).toContain(
    'If it is there, we cannot repair it. If not, the repair costs 90 €.',
  );
  expect(quoteText(facts({ isDoneHere: false, p: 0.9 }))).toContain('We do not repair that ourselves.');
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
    'in nearly all cases',
  ]);
});
