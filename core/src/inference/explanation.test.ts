import { decibansOf } from './explanation.ts';

describe('what an observation says of a group, in decibans', () => {
  test('ten times likelier under one of two is ten decibans for it and ten against the other', () => {
    const [a, b] = decibansOf([0.5, 0.5], [Math.log(0.9), Math.log(0.09)], [0, 1], 2);
    expect(a).toBeCloseTo(10, 9);
    expect(b).toBeCloseTo(-10, 9);
  });

  test('a group of several hypotheses is weighed as a whole', () => {
    // 0.2 and 0.3 of the group see 0.8 and 0.4: (0.16 + 0.12) / 0.5 against 0.1.
    const [a] = decibansOf([0.2, 0.3, 0.5], [0.8, 0.4, 0.1].map(Math.log), [0, 0, 1], 2);
    expect(a).toBeCloseTo(10 * Math.log10(0.56 / 0.1), 9);
  });

  test('a constant in front of all likelihoods says nothing, however large or small', () => {
    for (const shift of [-800, 0, 800]) {
      const [a] = decibansOf([0.5, 0.5], [Math.log(4) + shift, shift], [0, 1], 2);
      expect(a).toBeCloseTo(10 * Math.log10(4), 6);
    }
  });

  test('nothing is said of a group that has no probability, or that has all of it', () => {
    expect(decibansOf([0, 1], [0, -1], [0, 1], 2)).toEqual([0, 0]);
    expect(decibansOf([1], [-3], [0], 1)).toEqual([0]);
    expect(decibansOf([0.5, 0.5], [0, -1], [0, 0], 2)).toEqual([0, 0]);
  });

  test('what is impossible under one stays finite', () => {
    const [a, b] = decibansOf([0.5, 0.5], [0, -Infinity], [0, 1], 2);
    expect(a).toBeGreaterThan(1000);
    expect(b).toBeLessThan(-1000);
    expect(Number.isFinite(a - b)).toBe(true);
  });
});
