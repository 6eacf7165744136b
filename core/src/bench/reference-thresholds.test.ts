import policy from './measuring.json';
import { compareReading, type Comparable } from './reference.ts';

const of = (mode: Comparable['mode'], value: number | null, more: Partial<Comparable> = {}): Comparable => ({
  mode,
  value,
  ol: value === null,
  redProbe: 'ground',
  ...more,
});
const word = (mode: Comparable['mode'], ratio: number): string => compareReading(of(mode, 2 * ratio), of(mode, 2)).word;
const under = (x: number): number => x * (1 - 1e-9);
const over = (x: number): number => x * (1 + 1e-9);

test.each<[string, number, string]>([
  ['short', policy.shortRatio, 'much lower'],
  ['much lower', policy.tellingRatio, 'below'],
  ['below', policy.differsRatio, 'alike'],
  ['alike', 1 / policy.differsRatio, 'above'],
  ['above', 1 / policy.tellingRatio, 'much higher'],
])('a resistance or a drop is %s up to %d of the good board, then %s', (low, ratio, high) => {
  for (const mode of ['diode', 'resistance'] as const)
    expect([word(mode, under(ratio)), word(mode, over(ratio))]).toEqual([low, high]);
});

test.each<[string, number, string]>([
  ['much lower', policy.missingTo, 'below'],
  ['below', policy.standsFrom, 'alike'],
  ['alike', 2 - policy.standsFrom, 'above'],
  ['above', policy.maxOverNominal, 'much higher'],
])('a voltage is %s up to %d of the good board, then %s', (low, ratio, high) => {
  expect([word('voltage', under(ratio)), word('voltage', over(ratio))]).toEqual([low, high]);
});

test('tens of per cent between two good boards tell nothing, of a regulated voltage they do', () => {
  const telling = (mode: Comparable['mode'], ratio: number): boolean =>
    compareReading(of(mode, 2 * ratio), of(mode, 2)).isTelling;
  for (const ratio of [0.5, 0.8, 1.2, 2]) expect([ratio, telling('diode', ratio)]).toEqual([ratio, false]);
  for (const ratio of [0.02, 0.2, 4]) expect([ratio, telling('resistance', ratio)]).toEqual([ratio, true]);
  for (const ratio of [0.5, 1.3]) expect([ratio, telling('voltage', ratio)]).toEqual([ratio, true]);
  expect(telling('voltage', 1.02)).toBe(false);
});

test('open lines are told by which board they are on', () => {
  const [open, shut] = [of('diode', null), of('diode', 0.4)];
  expect(compareReading(open, open)).toMatchObject({ word: 'open on both', isTelling: false });
  expect(compareReading(open, shut)).toMatchObject({ word: 'open', isTelling: true });
  expect(compareReading(shut, open)).toMatchObject({ word: 'much lower', isTelling: true });
});

test('a good board that read nothing, or below, is nothing to compare with', () => {
  for (const value of [0, -0.1])
    expect(compareReading(of('voltage', 1), of('voltage', value)).says).toBe(
      'there is no known-good value to compare with',
    );
  expect(compareReading(of('voltage', null, { ol: false }), of('voltage', 1)).word).toBe('not comparable');
});

test('the way round of the probes matters without power, and not for a voltage', () => {
  const other = { redProbe: 'point' } as const;
  expect(compareReading(of('resistance', 9, other), of('resistance', 10)).word).toBe('not comparable');
  expect(compareReading(of('voltage', 3.3, other), of('voltage', 3.3)).word).toBe('alike');
});

test.each([
  [0.5, '50 %'],
  [1.99, '199 %'],
  [2.04, '2 times'],
  [12.3, '12 times'],
])('a ratio of %d is said as %s', (ratio, says) => {
  expect(compareReading(of('resistance', 100 * ratio), of('resistance', 100)).says).toContain(`: ${says},`);
});
