import { mkdir, open, readdir, rename, rm, truncate, type FileHandle } from 'node:fs/promises';
import { dirname } from 'node:path';

/**
 * What is kept of the disk of a bench computer, whose plug may be pulled at any time. What `append` has resolved for is
 * there after that; of what it has not, some, all or nothing.
 */
export interface Files {
  /** @throws {Error} of the file system, among them a disk that is full; some of the text may be there then */
  append(path: string, text: string): Promise<void>;
  /** Line by line; nothing where the file is not there. */
  lines(path: string): AsyncIterable<string>;
  /** Names in a folder; none where it is not there. */
  names(folder: string): Promise<string[]>;
  empty(path: string): Promise<void>;
  remove(path: string): Promise<void>;
  rename(from: string, to: string): Promise<void>;
}

const isMissing = (error: unknown): boolean => (error as NodeJS.ErrnoException).code === 'ENOENT';

async function unlessMissing<T>(work: Promise<T>, otherwise: T): Promise<T> {
  try {
    return await work;
  } catch (error) {
    if (isMissing(error)) return otherwise;
    throw error;
  }
}

/** A name in a folder lasts once the folder itself is written. */
async function syncFolder(path: string): Promise<void> {
  const folder = await open(path);
  try {
    await folder.sync();
  } finally {
    await folder.close();
  }
}

/** The disk of this computer. Readable by its owner alone. */
export const diskFiles: Files = {
  async append(path, text) {
    await mkdir(dirname(path), { recursive: true, mode: 0o700 });
    const file = await open(path, 'a', 0o600);
    try {
      const isNew = (await file.stat()).size === 0;
      await file.writeFile(text);
      await file.datasync();
      if (isNew) await syncFolder(dirname(path));
    } finally {
      await file.close();
    }
  },

  async *lines(path) {
    const file: FileHandle | null = await unlessMissing(open(path), null);
    if (!file) return;
    try {
      yield* file.readLines({ encoding: 'utf8', autoClose: false });
    } finally {
      await file.close();
    }
  },

  names: (folder) => unlessMissing(readdir(folder), []),
  empty: (path) => unlessMissing(truncate(path), undefined),
  remove: (path) => rm(path, { force: true }),
  async rename(from, to) {
    await rename(from, to);
    await syncFolder(dirname(to));
  },
};
