import { createHash } from 'node:crypto';
import { readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { writeWhole } from '../../plain/write-whole.cjs';

interface LeftOutOne {
  at: string;
  /** Of its settings and its language; null until they are known. */
  hash: string | null;
}

const read = <T>(path: string): T | null => {
  try {
    return JSON.parse(readFileSync(path, 'utf8')) as T;
  } catch {
    return null;
  }
};

/** Instruments on which an earlier recorder hung: left out until their settings or their language change. */
export class LeftOut {
  private readonly path: string;
  private readonly known: Map<string, LeftOutOne>;

  /** @param folder of the recorder, in which {@link HangWatch} leaves `hung.json` */
  constructor(folder: string) {
    this.path = join(folder, 'left-out.json');
    this.known = new Map(Object.entries(read<Record<string, LeftOutOne>>(this.path) ?? {}));
    const hung = read<{ key: string; at: string }>(hungFile(folder));
    if (!hung) return;
    this.known.set(hung.key, { at: hung.at, hash: null });
    this.keep();
    rmSync(hungFile(folder), { force: true });
  }

  /**
   * Why an instrument is left out, in words; null where it is not.
   *
   * @param made where it is and what it speaks
   */
  why(key: string, name: string, made: unknown): string | null {
    const one = this.known.get(key);
    if (!one) return null;
    const hash = createHash('sha256').update(JSON.stringify(made)).digest('hex');
    if (one.hash !== null && one.hash !== hash) {
      this.known.delete(key);
      this.keep();
      return null;
    }
    if (one.hash === null) {
      one.hash = hash;
      this.keep();
    }
    return `${name} is left out: on ${one.at.slice(0, 16).replace('T', ' ')} UTC the recorder stopped answering while it read what this instrument sent. Change its settings or its language, and it is tried again.`;
  }

  private keep(): void {
    writeWhole(this.path, JSON.stringify(Object.fromEntries(this.known)));
  }
}

export const hungFile = (folder: string): string => join(folder, 'hung.json');
