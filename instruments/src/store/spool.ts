import { join } from 'node:path';
import type { Marker } from '@umbral/core';
import { diskFiles, type Files } from './files.ts';
import type { StoredBlock } from './samples.ts';

/** An interval in which an instrument gave nothing. Seconds since the recording began. */
export interface Gap {
  t0: number;
  t1: number;
  why: string;
}

/** What a supply says that it is set to from an instant on, and whether its output is on. Seconds since the recording began. */
export interface SetTo {
  t: number;
  volts: number;
  limitA: number;
  on: boolean;
}

/** What is noted of a recording beside its samples. */
export interface Notes {
  markers: readonly Marker[];
  gaps: readonly Gap[];
  /** Missing in one of an earlier release. */
  setTo?: readonly SetTo[];
}

/** What a recording has to hand over, in the order in which it came. */
export type SpoolEntry =
  | { kind: 'block'; seq: number; block: StoredBlock }
  | ({ kind: 'notes' } & Notes)
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
  constructor(
    private readonly folder: string,
    private readonly files: Files = diskFiles,
  ) {}

  private pathOf(id: string): string {
    if (!/^[\w-]{1,80}$/.test(id)) throw new RangeError(`"${id}" is not the name of a recording`);
    return join(this.folder, id + suffix);
  }

  /**
   * Resolves once the entries would be there after a power cut.
   *
   * @throws {Error} of the file system, among them a disk that is full
   */
  async append(id: string, entries: readonly SpoolEntry[]): Promise<void> {
    if (entries.length === 0) return;
    // A line that was cut short must not swallow the next one.
    await this.files.append(this.pathOf(id), `\n${entries.map(lineOf).join('\n')}\n`);
  }

  /** Everything of a recording that can be read; nothing where it has been taken meanwhile. */
  async *entries(id: string): AsyncGenerator<SpoolEntry> {
    for await (const line of this.files.lines(this.pathOf(id))) {
      const entry = entryOf(line);
      if (entry) yield entry;
    }
  }

  /** Recordings that have something to hand over. */
  async ids(): Promise<string[]> {
    const names = await this.files.names(this.folder);
    return names.filter((n) => n.endsWith(suffix)).map((n) => n.slice(0, -suffix.length));
  }

  /** Everything so far has been taken; the recording goes on. */
  empty(id: string): Promise<void> {
    return this.files.empty(this.pathOf(id));
  }

  remove(id: string): Promise<void> {
    return this.files.remove(this.pathOf(id));
  }

  /** Puts aside what nobody takes, for a person to look at. */
  setAside(id: string): Promise<void> {
    return this.files.rename(this.pathOf(id), join(this.folder, `${id}.refused`));
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
  if (read === null || !['block', 'notes', 'ended'].includes(read.kind)) return null;
  if (read.kind !== 'block') return read as SpoolEntry;
  const { kind, seq, samples, ...rest } = read as Line & { seq: number } & Omit<StoredBlock, 'samples'>;
  return { kind, seq, block: { ...rest, samples: Buffer.from(samples ?? '', 'base64') } } as SpoolEntry;
}
