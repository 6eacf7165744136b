import { seededRandom } from '@umbral/core';
import { characters, classify, restoredNetwork, storedNetwork, type Network } from '@umbral/core/display';
import { freshNetwork, trainNetwork, type LabelledCell } from './index.ts';

const size = 16;
/** Cells that are easy: the character is the brightest of the first, the point stands at the end. */
function easyCells(count: number, seed: number): LabelledCell[] {
  const random = seededRandom(seed);
  return Array.from({ length: count }, () => {
    const character = Math.floor(random() * characters.length);
    const hasPoint = random() < 0.4;
    const cell = Float32Array.from({ length: size }, () => 0.2 * random());
    cell[character] += 0.7;
    if (hasPoint) cell[size - 1] += 0.7;
    return { cell, character, hasPoint };
  });
}
const lossOf = (net: Network, { cell, character, hasPoint }: LabelledCell): number => {
  const { p, point } = classify(net, cell);
  return -Math.log(p[character]) - Math.log(hasPoint ? point : 1 - point);
};

test('probabilities are such, whatever the weights', () => {
  const net = freshNetwork(size, seededRandom(3));
  for (const { cell } of easyCells(20, 5)) {
    const { p, point } = classify(net, cell);
    expect(p.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 5);
    expect(point).toBeGreaterThan(0);
    expect(point).toBeLessThan(1);
  }
  expect(() => classify(net, new Float32Array(3))).toThrow('Cell: expected 16 numbers, got 3.');
});

test('training goes down the loss: one small step against the gradient makes it less', () => {
  const cells = easyCells(40, 7);
  const net = freshNetwork(size, seededRandom(4));
  const before = cells.reduce((sum, c) => sum + lossOf(net, c), 0);
  const losses: number[] = [];
  trainNetwork(net, cells, 12, seededRandom(9), (_, loss) => losses.push(loss));
  expect(cells.reduce((sum, c) => sum + lossOf(net, c), 0)).toBeLessThan(before);
  expect(losses.at(-1)).toBeLessThan(losses[0]);
});

test('what can be learnt is learnt, and the same seed learns the same', () => {
  const learn = (): Network => {
    const net = freshNetwork(size, seededRandom(1));
    trainNetwork(net, easyCells(600, 2), 30, seededRandom(3));
    return net;
  };
  const net = learn();
  const fresh = easyCells(200, 99);
  const right = fresh.filter(({ cell, character, hasPoint }) => {
    const { p, point } = classify(net, cell);
    return p.indexOf(Math.max(...p)) === character && point > 0.5 === hasPoint;
  });
  expect(right.length).toBeGreaterThan(190);
  expect([...learn().out]).toEqual([...net.out]);
});

test('shipped as whole numbers it answers nearly the same, and damaged data is refused', () => {
  const net = freshNetwork(size, seededRandom(1));
  trainNetwork(net, easyCells(300, 2), 10, seededRandom(3));
  const kept = storedNetwork(net);
  expect(kept.into.every((w) => Number.isInteger(w) && Math.abs(w) <= 127)).toBe(true);
  const back = restoredNetwork(JSON.parse(JSON.stringify(kept)) as typeof kept);
  for (const { cell } of easyCells(30, 8)) {
    const [a, b] = [classify(net, cell), classify(back, cell)];
    a.p.forEach((p, k) => expect(Math.abs(p - b.p[k])).toBeLessThan(0.06));
  }
  expect(() => restoredNetwork({ ...kept, into: kept.into.slice(1) })).toThrow(
    'Network: expected 1024 and 768 weights.',
  );
});
