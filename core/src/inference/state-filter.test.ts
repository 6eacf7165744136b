import fc from 'fast-check';
import { decibansOf } from './explanation.ts';
import { logSumExp, normaliseWeights, normaliseLogs } from './log-space.ts';
import { moveStates, observeOutcome, predictiveProbability, startChain, type StateTable } from './state-filter.ts';

const p = fc.double({ min: 0.01, max: 1, noNaN: true });
const [states, count] = [3, 4];
const table = fc.array(fc.array(p, { minLength: count, maxLength: count }), { minLength: states, maxLength: states });
const rows = fc
  .array(fc.array(p, { minLength: states, maxLength: states }), { minLength: states, maxLength: states })
  .map((list) => list.map((row) => normaliseWeights(row)));
const first = new Array<number>(count).fill(0);

describe('log space', () => {
  test('worked examples', () => {
    expect(logSumExp([Math.log(0.2), Math.log(0.3)])).toBeCloseTo(Math.log(0.5), 12);
    expect(logSumExp([])).toBe(-Infinity);
    expect(normaliseLogs([-1000, -1000 + Math.log(3)])).toEqual([expect.closeTo(0.25), expect.closeTo(0.75)]);
    expect(() => normaliseLogs([-Infinity])).toThrow(/no hypothesis/);
  });
});

describe('a chain of states', () => {
  test('worked example: a change that cures half of the time, then a device that works', () => {
    const chain = moveStates(startChain([0], 2), () => [
      [0.5, 0.5],
      [0, 1],
    ]);
    const { chain: after, increments } = observeOutcome(chain, [[0.02], [0.98]]);
    expect(Math.exp(increments[0])).toBeCloseTo(0.5, 12);
    expect(after.states[1][0]).toBeCloseTo(0.98, 12);
  });

  test('states stay a distribution over any history, and what is predicted is what is entered', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(table, rows), { minLength: 1, maxLength: 6 }), (history) => {
        let chain = startChain(first, states);
        let total = 0;
        for (const [likelihood, transition] of history) {
          const planned = predictiveProbability(chain, likelihood as StateTable);
          const seen = observeOutcome(
            moveStates(chain, () => transition),
            likelihood,
          );
          expect(predictiveProbability(chain, likelihood)).toEqual(planned);
          chain = seen.chain;
          total += seen.increments[0];
          for (let h = 0; h < count; h++) expect(chain.states.reduce((sum, s) => sum + s[h], 0)).toBeCloseTo(1, 9);
        }
        expect(chain.logs[0]).toBeCloseTo(total, 9);
      }),
    );
  });

  test('two observations of one state weigh the same in either order', () => {
    fc.assert(
      fc.property(table, table, rows, (a, b, transition) => {
        const begin = moveStates(startChain(first, states), () => transition);
        const one = observeOutcome(observeOutcome(begin, a).chain, b).chain;
        const other = observeOutcome(observeOutcome(begin, b).chain, a).chain;
        one.logs.forEach((x, h) => expect(x).toBeCloseTo(other.logs[h], 9));
      }),
    );
  });
});

test('decibans of one group over several observations add up to its posterior odds over its prior odds', () => {
  const vector = fc.array(p, { minLength: 4, maxLength: 4 });
  const groups = [0, 0, 1, 2];
  const odds = (list: readonly number[], g: number): number => {
    const own = list.reduce((sum, x, h) => sum + (groups[h] === g ? x : 0), 0);
    return 10 * Math.log10(own / (1 - own));
  };
  fc.assert(
    fc.property(vector, fc.array(vector, { minLength: 1, maxLength: 5 }), (weights, likelihoods) => {
      const prior = normaliseWeights(weights);
      let belief = prior;
      const sums = [0, 0, 0];
      for (const likelihood of likelihoods) {
        const increments = likelihood.map(Math.log);
        decibansOf(belief, increments, groups, 3).forEach((d, g) => (sums[g] += d));
        belief = normaliseLogs(belief.map((x, h) => Math.log(x) + increments[h]));
      }
      sums.forEach((sum, g) => expect(sum).toBeCloseTo(odds(belief, g) - odds(prior, g), 6));
    }),
  );
});
