import { changeKind } from './change.ts';
import { checkKind } from './check.ts';
import { contractKind } from './contract.ts';
import { eyeKind } from './eye.ts';
import { halvesKind } from './halves.ts';
import { heatKind } from './heat.ts';
import { injectionKind } from './injection.ts';
import type { ObservationKind } from './kind.ts';
import { proofKind } from './proof.ts';
import { readingKind } from './reading.ts';
import { runKind } from './run.ts';
import { unplugKind } from './unplug.ts';

/** Every kind of observation, in the order in which those of one state of the device are weighed. */
export const observationKinds: readonly ObservationKind[] = [
  runKind,
  changeKind,
  contractKind,
  unplugKind,
  halvesKind,
  readingKind,
  injectionKind,
  heatKind,
  eyeKind,
  checkKind,
  proofKind,
];
