import { outputs, type Network } from './network.ts';

/** A network as it is shipped: whole numbers from -127 to 127, and what one of them is worth in each layer. */
export interface StoredNetwork {
  inputs: number;
  hidden: number;
  into: number[];
  intoScale: number;
  intoBias: number[];
  out: number[];
  outScale: number;
  outBias: number[];
}

const most = 127;
const biasDigits = 4;

/** Rounds the weights of a network to whole numbers, so that it is small. */
export function storedNetwork({ inputs, hidden, into, intoBias, out, outBias }: Network): StoredNetwork {
  const scaleOf = (w: Float32Array): number => w.reduce((best, x) => Math.max(best, Math.abs(x)), 0) / most;
  const [intoScale, outScale] = [scaleOf(into), scaleOf(out)];
  const whole = (w: Float32Array, scale: number): number[] => Array.from(w, (x) => Math.round(x / scale));
  const short = (w: Float32Array): number[] => Array.from(w, (x) => Number(x.toFixed(biasDigits)));
  return {
    inputs,
    hidden,
    into: whole(into, intoScale),
    intoScale,
    intoBias: short(intoBias),
    out: whole(out, outScale),
    outScale,
    outBias: short(outBias),
  };
}

/**
 * A network as it was shipped.
 *
 * @throws {RangeError} where there are not as many weights as its size needs
 */
export function restoredNetwork(from: StoredNetwork): Network {
  const { inputs, hidden } = from;
  if (from.into.length !== inputs * hidden || from.out.length !== outputs * hidden)
    throw new RangeError(`Network: expected ${inputs * hidden} and ${outputs * hidden} weights.`);
  return {
    inputs,
    hidden,
    into: Float32Array.from(from.into, (x) => x * from.intoScale),
    intoBias: Float32Array.from(from.intoBias),
    out: Float32Array.from(from.out, (x) => x * from.outScale),
    outBias: Float32Array.from(from.outBias),
  };
}
