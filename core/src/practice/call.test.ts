import fc from 'fast-check';
import { circuitIds, type CircuitId } from '../catalogue/index.ts';
import { leadingShare, pointsFor, probabilitiesOf, refusedShares } from './index.ts';

const sharesOf = (...list: [CircuitId, number][]) => list.map(([circuit, percent]) => ({ circuit, percent }));

describe('points for a call', () => {
  test('sure and right is 100, knowing nothing is 0, sure and wrong costs more than 100', () => {
    expect(pointsFor([{ id: 'pmic', p: 1 }], 'pmic')).toBeCloseTo(100, 9);
    const blind = circuitIds.map((id) => ({ id, p: 1 / circuitIds.length }));
    expect(pointsFor(blind, 'pmic')).toBeCloseTo(0, 9);
    expect(pointsFor([{ id: 'button', p: 1 }], 'pmic')).toBeLessThan(-100);
  });

  test('nobody gains by saying anything but what they believe', () => {
    const weights = fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { minLength: 5, maxLength: 5 });
    const five = circuitIds.slice(0, 5);
    const normal = (w: number[]) => {
      const sum = w.reduce((a, b) => a + b, 0) + 1e-9;
      return five.map((id, k) => ({ id, p: (w[k] + 2e-10) / sum }));
    };
    fc.assert(
      fc.property(weights, weights, (a, b) => {
        const [believed, said] = [normal(a), normal(b)];
        const expected = (p: typeof said): number => believed.reduce((sum, x) => sum + x.p * pointsFor(p, x.id), 0);
        expect(expected(believed)).toBeGreaterThanOrEqual(expected(said) - 1e-6);
      }),
    );
  });
});

test.each([
  [sharesOf(), /enter at least one/],
  [sharesOf(['pmic', 60], ['pmic', 40]), /entered twice/],
  [sharesOf(['pmic', -5], ['button', 105]), /percentage from 0 to 100/],
  [sharesOf(['pmic', Number.NaN], ['button', 100]), /percentage from 0 to 100/],
  [sharesOf(['pmic', 60], ['button', 30]), /sum to 90; expected 100/],
])('%j is refused with what is expected', (shares, message) => {
  expect(refusedShares(shares)).toMatch(message);
});

test('shares that sum are taken, and the first of the highest leads', () => {
  const shares = sharesOf(['pmic', 40], ['button', 40], ['none', 20]);
  expect(refusedShares(shares)).toBeNull();
  expect(leadingShare(shares).circuit).toBe('pmic');
  expect(probabilitiesOf(shares)[2]).toEqual({ id: 'none', p: 0.2 });
});
