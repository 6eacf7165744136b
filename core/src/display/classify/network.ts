/** Characters that are told apart, in the order of the network's outputs; after them comes the decimal point. */
export const characters = ['0', '1', '2', '3', '4', '5', '6', '7', '8', '9', '-'] as const;

/** Two layers of weights: cell to hidden, hidden to characters and point. Matrices row by row, a row an output. */
export interface Network {
  inputs: number;
  hidden: number;
  /** hidden x inputs, then hidden. */
  into: Float32Array;
  intoBias: Float32Array;
  /** outputs x hidden, then outputs. */
  out: Float32Array;
  outBias: Float32Array;
}

/** Outputs of a network: one a character, and one for the point. */
export const outputs = characters.length + 1;

/** What a cell holds. */
interface Classified {
  /** Probability of every character, in their order; sums to 1. */
  p: Float32Array;
  /** Probability that a decimal point follows. */
  point: number;
}

/**
 * What a network makes of a cell.
 *
 * @param cell as many numbers as the network has inputs
 * @throws {RangeError} for a cell of another size
 */
export function classify(net: Network, cell: Float32Array): Classified {
  if (cell.length !== net.inputs) throw new RangeError(`Cell: expected ${net.inputs} numbers, got ${cell.length}.`);
  const scores = scoresOf(net, hiddenOf(net, cell));
  const p = scores.slice(0, characters.length);
  const top = Math.max(...p);
  let sum = 0;
  for (let k = 0; k < p.length; k++) sum += p[k] = Math.exp(p[k] - top);
  for (let k = 0; k < p.length; k++) p[k] /= sum;
  return { p, point: 1 / (1 + Math.exp(-scores[characters.length])) };
}

/** What the hidden layer says: what is below nothing is nothing. */
export function hiddenOf({ inputs, hidden, into, intoBias }: Network, cell: Float32Array): Float32Array {
  const h = new Float32Array(hidden);
  for (let j = 0; j < hidden; j++) {
    let sum = intoBias[j];
    const row = j * inputs;
    for (let i = 0; i < inputs; i++) sum += into[row + i] * cell[i];
    h[j] = sum > 0 ? sum : 0;
  }
  return h;
}

/** Scores before they are made probabilities: one a character, then the point. */
export function scoresOf({ hidden, out, outBias }: Network, h: Float32Array): Float32Array {
  const scores = new Float32Array(outputs);
  for (let k = 0; k < outputs; k++) {
    let sum = outBias[k];
    for (let j = 0; j < hidden; j++) sum += out[k * hidden + j] * h[j];
    scores[k] = sum;
  }
  return scores;
}
