import { randomUUID } from 'node:crypto';
import { appendFileSync, closeSync, fsyncSync, openSync } from 'node:fs';
import type { BenchEvent } from '../store/keeper.ts';
import { diskFiles, type Files } from '../store/files.ts';
import type { WatchedSupply } from './guard.ts';

/** What the watchdog did to an output while no recorder could say so, as it waits on disk for the next one. */
interface Deed {
  event: BenchEvent;
  /** The recording that ran on that output, and why it ended; null for none. */
  recording: number | null;
  problem: string;
}

/**
 * What is said of an output that the watchdog took over.
 *
 * @param why the recorder did not go on, in words
 * @param isOff the supply says so; else nobody knows
 */
export function deedOf({ spec, of }: WatchedSupply, why: string, isOff: boolean, at: Date): Deed {
  const did = isOff ? 'the watchdog switched the output off' : 'the watchdog could not switch the output off';
  const event = {
    key: randomUUID(),
    jobId: of.jobId,
    person: of.person,
    what: `${spec.name}: ${isOff ? 'output off' : 'output may be on'}`,
    detail: { instrument: spec.key, why: `${why}; ${did}` },
    at: at.toISOString(),
  };
  return { event, recording: of.recording, problem: `${why}; ${did}` };
}

/** Puts it on disk, at once: whoever did it ends now. */
export function writeDeed(path: string, deed: Deed): void {
  const file = openSync(path, 'a', 0o600);
  try {
    appendFileSync(file, `${JSON.stringify(deed)}\n`);
    fsyncSync(file);
  } finally {
    closeSync(file);
  }
}

/**
 * Gives what waits on disk to `tell`, and takes it away afterwards. What was being told when a recorder ended is told again:
 * it is known by its key.
 */
export async function tellDeeds(
  path: string,
  tell: (deed: Deed) => Promise<void>,
  files: Files = diskFiles,
): Promise<void> {
  const taken = `${path}.taken`;
  for (const isFresh of [false, true]) {
    // The watchdog may still be writing: what it adds after this is there the next time.
    if (isFresh) await files.rename(path, taken).catch(ignoreMissing);
    for await (const line of files.lines(taken)) {
      const deed = read(line);
      if (deed) await tell(deed);
    }
    await files.remove(taken);
  }
}

function ignoreMissing(error: NodeJS.ErrnoException): void {
  if (error.code !== 'ENOENT') throw error;
}

/** Null for a line that an end cut short. */
function read(line: string): Deed | null {
  try {
    const deed = JSON.parse(line) as Deed | null;
    return typeof deed?.event?.key === 'string' ? deed : null;
  } catch {
    return null;
  }
}
