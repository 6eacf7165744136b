import { createReadStream, createWriteStream, promises as fs } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable, Transform } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { FormatError, type RandomAccess } from '@umbral/core';
import { ExpectedError } from './errors.ts';

const maxBytes = 512 * 1024 * 1024;
/** Files that come in at once in one process; what comes beside them is asked to come again. */
const maxAtOnce = 8;

let under = 0;

/** A file that has come in whole. */
export interface Upload {
  size: number;
  /** Reads it from the beginning, as often as it is asked. */
  read: () => AsyncIterable<Uint8Array>;
  access: RandomAccess;
}

/**
 * Keeps what comes in on disk until it is whole, then does `work` with it: a sender that is slow, or never ends, holds no
 * connection to the database meanwhile. The file is gone afterwards, whatever happens.
 *
 * @param name what it is called, for the message
 * @throws {FormatError} for more than 512 MB
 * @throws {ExpectedError} where too many files come in at once
 */
export async function withUpload<T>(
  source: AsyncIterable<Uint8Array>,
  name: string,
  work: (file: Upload) => Promise<T>,
): Promise<T> {
  if (under >= maxAtOnce)
    throw new ExpectedError('busy', `${maxAtOnce} files are coming in already; send this one again in a moment.`);
  under++;
  let folder: string | null = null;
  try {
    folder = await fs.mkdtemp(join(tmpdir(), 'umbral-upload-'));
    const path = join(folder, 'file');
    await pipeline(Readable.from(source), bounded(name), createWriteStream(path)).catch(sayFullDisk);
    const handle = await fs.open(path, 'r');
    try {
      const { size } = await handle.stat();
      return await work({ size, read: () => createReadStream(path), access: accessOf(handle, size) });
    } finally {
      await handle.close();
    }
  } finally {
    under--;
    if (folder) await fs.rm(folder, { recursive: true, force: true });
  }
}

function bounded(name: string): Transform {
  let size = 0;
  return new Transform({
    transform(block: Buffer, _encoding, done) {
      size += block.length;
      done(size > maxBytes ? new FormatError(name, '', 'the upload is above 512 MB') : null, block);
    },
  });
}

function sayFullDisk(error: NodeJS.ErrnoException): never {
  if (error.code === 'ENOSPC')
    throw new ExpectedError('busy', 'The disk is full: there is no room for this file. Nothing was stored.');
  throw error;
}

function accessOf(handle: fs.FileHandle, size: number): RandomAccess {
  return {
    size,
    read: async (offset, length) => {
      const bytes = new Uint8Array(Math.max(0, Math.min(length, size - offset)));
      await handle.read(bytes, 0, bytes.length, offset);
      return bytes;
    },
  };
}
