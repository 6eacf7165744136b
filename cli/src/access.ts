import { createReadStream, promises as fs } from 'node:fs';
import { basename, join } from 'node:path';
import { FormatError, pathProblem, zipFiles, type PackageFiles, type RandomAccess } from '@umbral/core';

/** The files of a package that lies in a folder. Links are told apart at every step of the path. */
export function folderFiles(folder: string): PackageFiles {
  return {
    remarks: [],
    stat: async (name) => {
      if (pathProblem(name)) return null;
      let path = folder;
      for (const step of name.split('/')) {
        path = join(path, step);
        const found = await fs.lstat(path).catch(() => null);
        if (!found) return null;
        if (found.isSymbolicLink()) return { size: 0, link: true };
        if (path === join(folder, name)) return found.isFile() ? { size: found.size, link: false } : null;
      }
      return null;
    },
    open: (name) => readBlocks(join(folder, name), name),
  };
}

/** A file in blocks; a failure to read it is a FormatError that names it. */
export async function* readBlocks(path: string, name: string): AsyncGenerator<Uint8Array> {
  try {
    for await (const block of createReadStream(path, { highWaterMark: 1 << 18 })) yield block as Uint8Array;
  } catch (error) {
    throw new FormatError(
      name,
      '',
      `the file cannot be read (${(error as NodeJS.ErrnoException).code ?? 'unknown reason'})`,
    );
  }
}

/** Opens a zip on disk without holding it in memory. */
export async function openZip(path: string): Promise<{ files: PackageFiles; close: () => Promise<void> }> {
  const handle = await fs.open(path, 'r');
  const { size } = await handle.stat();
  const source: RandomAccess = {
    size,
    read: async (offset, length) => {
      const bytes = new Uint8Array(Math.max(0, Math.min(length, size - offset)));
      await handle.read(bytes, 0, bytes.length, offset);
      return bytes;
    },
  };
  try {
    return { files: await zipFiles(source, basename(path)), close: () => handle.close() };
  } catch (error) {
    await handle.close();
    throw error;
  }
}

/** What lies at a path: a folder, a zip (by its first bytes or its name), or something that may be a log. */
export async function kindOfPath(path: string): Promise<'folder' | 'zip' | 'file'> {
  const stat = await fs.stat(path).catch(() => null);
  if (!stat) throw new FormatError(path, '', 'there is no such file or folder');
  if (stat.isDirectory()) return 'folder';
  if (!stat.isFile()) throw new FormatError(path, '', 'is neither a file nor a folder');
  if (/\.zip$/i.test(path)) return 'zip';
  const handle = await fs.open(path, 'r').catch(() => null);
  if (!handle) throw new FormatError(path, '', 'the file cannot be read');
  const head = new Uint8Array(4);
  await handle.read(head, 0, 4, 0);
  await handle.close();
  return head[0] === 0x50 && head[1] === 0x4b && head[2] === 3 && head[3] === 4 ? 'zip' : 'file';
}
