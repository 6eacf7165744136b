import { promises as fs } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { FormatError, type RandomAccess } from '@umbral/core';
import { ExpectedError } from './errors.ts';
import { actor } from './actor.ts';

const maxBytes = 512 * 1024 * 1024;
/** Files that one person may send at once, and that are worked with at once in one process. */
const maxOfOne = 6;
const maxAtWork = 4;

/** How many are coming in, by whom. */
const coming = new Map<number, number>();
let atWork = 0;
const waiting: (() => void)[] = [];

/** A file that has come in whole. */
export interface Upload {
  size: number;
  /** Reads it from the beginning, as often as it is asked. */
  read: () => AsyncIterable<Uint8Array>;
  access: RandomAccess;
  /** The number of the open file, for another thread of this process. */
  descriptor: number;
}

/** In turn: what has come in whole waits for its work, not for others that are still being sent. */
async function inTurn<T>(work: () => Promise<T>): Promise<T> {
  if (atWork >= maxAtWork) await new Promise<void>((resolve) => waiting.push(resolve));
  atWork++;
  try {
    return await work();
  } finally {
    atWork--;
    waiting.shift()?.();
  }
}

/** A file that has a place on disk and no name: whatever becomes of this process, it is gone with it. */
async function namelessFile(): Promise<fs.FileHandle> {
  const folder = await fs.mkdtemp(join(tmpdir(), 'umbral-upload-'));
  try {
    return await fs.open(join(folder, 'file'), 'w+', 0o600);
  } finally {
    await fs.rm(folder, { recursive: true, force: true });
  }
}

/**
 * Keeps what comes in on disk until it is whole, then does `work` with it: a sender that is slow, or never ends, holds no
 * connection to the database meanwhile, and keeps nobody else from sending. The file is gone afterwards, whatever happens.
 *
 * @param name what it is called, for the message
 * @throws {FormatError} for more than 512 MB
 * @throws {ExpectedError} where the same person sends too many files at once
 */
export async function withUpload<T>(
  source: AsyncIterable<Uint8Array>,
  name: string,
  work: (file: Upload) => Promise<T>,
): Promise<T> {
  const who = actor()?.person.id ?? 0;
  const count = coming.get(who) ?? 0;
  if (count >= maxOfOne)
    throw new ExpectedError('busy', `You are already uploading ${maxOfOne} files. Try this one again in a moment.`);
  coming.set(who, count + 1);
  let isComing = true;
  const leave = (): void => {
    if (!isComing) return;
    isComing = false;
    const left = (coming.get(who) ?? 1) - 1;
    if (left === 0) coming.delete(who);
    else coming.set(who, left);
  };
  let handle: fs.FileHandle | null = null;
  try {
    handle = await namelessFile();
    const file = handle;
    const size = await writeAll(file, source, name).catch(sayFullDisk);
    leave();
    return await inTurn(() =>
      work({ size, read: () => readAll(file, size), access: accessOf(file, size), descriptor: file.fd }),
    );
  } finally {
    leave();
    await handle?.close();
  }
}

/** @returns how many bytes came */
async function writeAll(file: fs.FileHandle, source: AsyncIterable<Uint8Array>, name: string): Promise<number> {
  let size = 0;
  for await (const block of source) {
    if (size + block.length > maxBytes) throw new FormatError(name, '', 'the upload is larger than 512 MB');
    await file.write(block, 0, block.length, size);
    size += block.length;
  }
  return size;
}

const readBytes = 262_144;

async function* readAll(file: fs.FileHandle, size: number): AsyncGenerator<Uint8Array> {
  for (let at = 0; at < size; at += readBytes) {
    const block = new Uint8Array(Math.min(readBytes, size - at));
    await file.read(block, 0, block.length, at);
    yield block;
  }
}

function sayFullDisk(error: NodeJS.ErrnoException): never {
  if (error.code === 'ENOSPC') throw new ExpectedError('busy', 'The disk is full. Nothing was saved.');
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
