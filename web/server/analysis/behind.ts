import { constants, setPriority } from 'node:os';

/**
 * Puts the thread that calls this behind those that answer people and instruments: what takes a second may take a little
 * longer, and nobody's page or sample waits for it. On Linux the priority is that of the thread, not of the process.
 *
 * @see setpriority(2), "C library/kernel differences"
 */
export function workBehindOthers(): void {
  if (process.platform !== 'linux') return;
  try {
    setPriority(0, constants.priority.PRIORITY_BELOW_NORMAL);
  } catch {
    // Where that is not allowed it works like everything else.
  }
}
