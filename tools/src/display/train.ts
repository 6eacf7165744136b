import { gaussianNoise, type Random } from '@umbral/core';
import { characters, classify, hiddenOf, outputs, type Network } from '@umbral/core/display';
import settings from './train.json';

/** A cell with what it holds. */
export interface LabelledCell {
  cell: Float32Array;
  /** Number of its character, in the order of {@link characters}. */
  character: number;
  hasPoint: boolean;
}

/** Weights by chance, small enough that a layer keeps the spread of what goes in. */
export function freshNetwork(inputs: number, random: Random, hidden: number = settings.hidden): Network {
  const layer = (n: number, from: number): Float32Array =>
    Float32Array.from({ length: n * from }, () => gaussianNoise(random) * Math.sqrt(2 / from));
  return {
    inputs,
    hidden,
    into: layer(hidden, inputs),
    intoBias: new Float32Array(hidden),
    out: layer(outputs, hidden),
    outBias: new Float32Array(outputs),
  };
}

type Layer = 'into' | 'intoBias' | 'out' | 'outBias';
const layers: readonly Layer[] = ['into', 'intoBias', 'out', 'outBias'];

/**
 * Trains a network in place on cells, each once a pass, by cross entropy: of the character, and of the point.
 *
 * @param passes over all cells
 * @param told after each pass with the mean loss, nats a cell
 * @param vary what of a cell is learnt from in a pass
 * @see D. Kingma and J. Ba, Adam: A Method for Stochastic Optimization, 2015
 */
export function trainNetwork(
  net: Network,
  cells: readonly LabelledCell[],
  passes: number,
  random: Random,
  told: (pass: number, loss: number) => void = () => undefined,
  vary: (cell: LabelledCell) => LabelledCell = (cell) => cell,
): void {
  const adam = new Adam(net);
  const order = cells.map((_, k) => k);
  for (let pass = 0; pass < passes; pass++) {
    for (let k = order.length - 1; k > 0; k--) {
      const j = Math.floor(random() * (k + 1));
      [order[k], order[j]] = [order[j], order[k]];
    }
    let loss = 0;
    for (let from = 0; from < order.length; from += settings.batch) {
      const batch = order.slice(from, from + settings.batch).map((k) => vary(cells[k]));
      for (const one of batch) loss += adam.learn(one, batch.length);
      // Slower towards the end, so that it settles.
      adam.step(settings.rate * (1 - pass / passes));
    }
    told(pass, loss / cells.length);
  }
}

/** Gradients with their running means. */
class Adam {
  private readonly gradient: Record<Layer, Float32Array>;
  private readonly mean: Record<Layer, Float32Array>;
  private readonly square: Record<Layer, Float32Array>;
  private steps = 0;

  constructor(private readonly net: Network) {
    const zeros = (): Record<Layer, Float32Array> =>
      Object.fromEntries(layers.map((l) => [l, new Float32Array(net[l].length)])) as Record<Layer, Float32Array>;
    [this.gradient, this.mean, this.square] = [zeros(), zeros(), zeros()];
  }

  /** Adds the gradient of one cell, and says its loss. */
  learn({ cell, character, hasPoint }: LabelledCell, of: number): number {
    const { net, gradient: g } = this;
    const h = hiddenOf(net, cell);
    const { p, point } = classify(net, cell);
    const delta = new Float32Array(outputs);
    for (let k = 0; k < characters.length; k++) delta[k] = (p[k] - (k === character ? 1 : 0)) / of;
    delta[characters.length] = (point - (hasPoint ? 1 : 0)) / of;
    const back = new Float32Array(net.hidden);
    for (let k = 0; k < outputs; k++) {
      g.outBias[k] += delta[k];
      for (let j = 0; j < net.hidden; j++) {
        g.out[k * net.hidden + j] += delta[k] * h[j];
        if (h[j] > 0) back[j] += delta[k] * net.out[k * net.hidden + j];
      }
    }
    for (let j = 0; j < net.hidden; j++) {
      if (back[j] === 0) continue;
      g.intoBias[j] += back[j];
      const row = j * net.inputs;
      for (let i = 0; i < net.inputs; i++) g.into[row + i] += back[j] * cell[i];
    }
    const right = hasPoint ? point : 1 - point;
    return -Math.log(Math.max(p[character], settings.tiny)) - Math.log(Math.max(right, settings.tiny));
  }

  step(rate: number): void {
    this.steps++;
    const { momentum, square: kept, tiny, decay } = settings;
    const [fromMean, fromSquare] = [1 - momentum ** this.steps, 1 - kept ** this.steps];
    for (const layer of layers) {
      const [w, g, m, s] = [this.net[layer], this.gradient[layer], this.mean[layer], this.square[layer]];
      for (let k = 0; k < w.length; k++) {
        m[k] = momentum * m[k] + (1 - momentum) * g[k];
        s[k] = kept * s[k] + (1 - kept) * g[k] ** 2;
        w[k] -= rate * (m[k] / fromMean / (Math.sqrt(s[k] / fromSquare) + tiny) + decay * w[k]);
        g[k] = 0;
      }
    }
  }
}
