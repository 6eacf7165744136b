import { usualTrust } from '../observation/index.ts';
import { learnedTrust, trustsTried, type TrustScores } from './trust.ts';

const scored = (best: number, over: Partial<TrustScores> = {}): TrustScores => ({
  model: 'm',
  deviceClass: 'phone',
  weight: 1,
  scores: trustsTried.map((_, k) => (k === best ? -0.5 : -1.5)),
  ...over,
});
const times = (n: number, one: TrustScores): TrustScores[] => Array.from({ length: n }, () => one);
const other = trustsTried.findIndex((t) => t.population !== null && t.sharpness < 1);

describe('trust in the sources', () => {
  test('the usual one is tried first', () => {
    expect(trustsTried[0]).toEqual(usualTrust);
  });
  test('without cases it is nearly as usual', () => {
    const trust = learnedTrust([], 'm', 'phone');
    expect(trust.sharpness).toBeGreaterThan(0.9);
    expect(trust.population ?? 0).toBeLessThan(0.25);
  });
  test('thirty cases that one trust calls better move it there', () => {
    const trust = learnedTrust(times(30, scored(other)), 'm', 'phone');
    expect(trust.population).toBeCloseTo(trustsTried[other].population ?? 0, 2);
    expect(trust.sharpness).toBeCloseTo(trustsTried[other].sharpness, 2);
  });
  test('cases of another model move it less, of another class still less', () => {
    const sharpness = (over: Partial<TrustScores>): number =>
      learnedTrust(times(6, scored(other, over)), 'm', 'phone').sharpness;
    expect(sharpness({})).toBeLessThan(sharpness({ model: 'n' }));
    expect(sharpness({ model: 'n' })).toBeLessThan(sharpness({ model: 'n', deviceClass: 'laptop' }));
  });
  test('a model without a name is no model', () => {
    const unnamed = times(6, scored(other, { model: '' }));
    expect(learnedTrust(unnamed, '', 'phone').sharpness).toBeGreaterThan(
      learnedTrust(times(6, scored(other)), 'm', 'phone').sharpness,
    );
  });
  test('scores of another engine, of another length, are left out', () => {
    expect(learnedTrust(times(40, scored(other, { scores: [-1, -2] })), 'm', 'phone')).toEqual(
      learnedTrust([], 'm', 'phone'),
    );
  });
});
