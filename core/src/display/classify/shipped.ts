import digits from './digits.json';
import type { Network } from './network.ts';
import { restoredNetwork, type StoredNetwork } from './stored.ts';

let known: Network | null = null;

/** The network that ships, as `scripts/train-display.mjs` trained it. */
export function shippedNetwork(): Network {
  return (known ??= restoredNetwork(digits as StoredNetwork));
}
