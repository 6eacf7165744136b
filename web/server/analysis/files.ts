import { read } from 'node:fs';
import { Worker } from 'node:worker_threads';
import { FormatError, readPackage, zipFiles, type CasePackage, type RandomAccess } from '@umbral/core';
import { ValidationError } from 'yup';
import { boardOf, type BoardFile } from './board-format.ts';
import { lineOf, type Line } from './exchange-format.ts';
import { ExpectedError } from '../record/errors.ts';
import { threadFor } from './thread.ts';

/** What came of a file: what it holds, or why it is refused, as it goes from one thread to another. */
type Read<T> = { value: T } | { file: string; place: string; problem: string } | { says: string };

async function attempt<T>(work: () => T | Promise<T>): Promise<Read<T>> {
  try {
    return { value: await work() };
  } catch (error) {
    if (error instanceof FormatError) return { file: error.file, place: error.place, problem: error.problem };
    if (error instanceof ExpectedError) return { says: error.message };
    if (error instanceof ValidationError) return { says: error.errors.join('; ') };
    throw error;
  }
}

function valueOf<T>(read: Read<T>): T {
  if ('value' in read) return read.value;
  throw 'says' in read ? new ExpectedError('input', read.says) : new FormatError(read.file, read.place, read.problem);
}

/** The bytes of an open file: its number is the same on every thread of this process. */
const accessOf = (descriptor: number, size: number): RandomAccess => ({
  size,
  read: (at, length) =>
    new Promise((resolve, reject) => {
      const bytes = Buffer.alloc(Math.min(length, Math.max(0, size - at)));
      read(descriptor, bytes, 0, bytes.length, at, (error, count) =>
        error ? reject(error) : resolve(new Uint8Array(bytes.buffer, bytes.byteOffset, count)),
      );
    }),
});

/** A package may hold hours of samples. */
const limitMs = 300_000;

/** What the thread for files answers. */
export const fileAnswers = {
  packaged: (descriptor: number, size: number, name: string): Promise<Read<CasePackage>> =>
    attempt(async () => readPackage(await zipFiles(accessOf(descriptor, size), name))),
  board: (text: string): Promise<Read<BoardFile>> => attempt(() => boardOf(text)),
  lines: (fileName: string, first: number, texts: string[]): Promise<Read<Line[]>> =>
    attempt(() => texts.map((text, k) => lineOf(fileName, first + k, text))),
};

const onThread = threadFor(
  () => new Worker(new URL('./files.worker.ts', import.meta.url)),
  fileAnswers,
  'Reading this file',
  limitMs,
);

/**
 * Reads and checks a case package on a thread of its own.
 *
 * @param file that is open, with its size
 * @throws {FormatError} with what is wrong and where
 */
export const readPackageFile = async (file: { descriptor: number; size: number }, name: string): Promise<CasePackage> =>
  valueOf(await onThread((answers) => answers.packaged(file.descriptor, file.size, name)));

/** The same for a map of boards. */
export const readBoardText = async (text: string): Promise<BoardFile> =>
  valueOf(await onThread((answers) => answers.board(text)));

/**
 * The same for lines of a library.
 *
 * @param first number of the first of them in the file
 */
export const readLibraryLines = async (fileName: string, first: number, texts: string[]): Promise<Line[]> =>
  valueOf(await onThread((answers) => answers.lines(fileName, first, texts)));
