import { appendFile, mkdir, open, readdir, rename, rm, truncate, type FileHandle } from 'node:fs/promises';
import { join } from 'node:path';
import type { Marker } from '@umbral/core';
import type { StoredBlock } from './samples.ts';

/** An interval in which an instrument gave nothing. Seconds since the recording began. */
export interface Gap {
  t0: number;
  t1: number;
  why: string;
}

/** What a recording has to hand over, in the order in which it came. */
export type SpoolEntry =
  | { kind: 'block'; seq: number; block: StoredBlock }
  | { kind: 'notes'; markers: Marker[]; gaps: Gap[] }
  | { kind: 'ended'; at: string; problem: string | null };

interface Line {
  kind: SpoolEntry['kind'];
  samples?: string;
}

const suffix = '.spool';

/**
 * What recorders keep on disk until whoever keeps the record has taken it: one file a recording, one line an entry. A
 * line that a crash cut short is left out when it is read; everything before it is there.
 */
export class Spool {
  constructor(private readonly folder: string) {}

  private pathOf(id: string): string {
    if (!/^[\w-]{1,80}$/.test(id)) throw new RangeError(`"${id}" is no name of a recording`);
    return join(this.folder, id + suffix);
  }

  /** @throws {Error} of the file system, among them a disk that is full */
  async append(id: string, entries: readonly SpoolEntry[]): Promise<void> {
    if (entries.length === 0) return;
    await mkdir(this.folder, { recursive: true });
    // A line that was cut short by a full disk must not swallow the next one.
    await appendFile(this.pathOf(id), `\n${entries.map(lineOf).join('\n')}\n`, { mode: 0o600 });
  }

  /** Everything of a recording that can be read; nothing where it has been taken meanwhile. */
  async *entries(id: string): AsyncGenerator<SpoolEntry> {
    let file: FileHandle;
    try {
      file = await open(this.pathOf(id));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return;
      throw error;
    }
    try {
      for await (const line of file.readLines({ encoding: 'utf8', autoClose: false })) {
        const entry = entryOf(line);
        if (entry) yield entry;
      }
    } finally {
      await file.close();
    }
  }

  /** Recordings that have something to hand over. */
  async ids(): Promise<string[]> {
    try {
      const names = await readdir(this.folder);
      return names.filter((n) => n.endsWith(suffix)).map((n) => n.slice(0, -suffix.length));
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return [];
      throw error;
    }
  }

  /** Everything so far has been taken; the recording goes on. */
  async empty(id: string): Promise<void> {
    await truncate(this.pathOf(id)).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== 'ENOENT') throw error;
    });
  }

  async remove(id: string): Promise<void> {
    await rm(this.pathOf(id), { force: true });
  }

  /** Puts aside what nobody takes, for a person to look at. */
  async setAside(id: string): Promise<void> {
    await rename(this.pathOf(id), join(this.folder, `${id}.refused`));
  }
}

function lineOf(entry: SpoolEntry): string {
  if (entry.kind !== 'block') return JSON.stringify(entry);
  const { samples, ...rest } = entry.block;
  return JSON.stringify({ kind: entry.kind, seq: entry.seq, ...rest, samples: samples.toString('base64') });
}

function entryOf(line: string): SpoolEntry | null {
  if (line === '') return null;
  let read: Line;
  try {
    read = JSON.parse(line) as Line;
  } catch {
    return null;
  }
  if (read.kind !== 'block') return read as SpoolEntry;
  const { kind, seq, samples, ...rest } = read as Line & { seq: number } & Omit<StoredBlock, 'samples'>;
  return { kind, seq, block: { ...rest, samples: Buffer.from(samples ?? '', 'base64') } } as SpoolEntry;
}
