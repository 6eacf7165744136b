import { Reader, ZipReader, type Entry, type FileEntry } from '@zip.js/zip.js';
import { clipText } from '../../quantity/index.ts';
import { FormatError } from '../error.ts';
import type { PackageFiles } from './files.ts';
import { pathProblem } from './path-problem.ts';

/** Bytes that can be read from anywhere, such as an open file. */
export interface RandomAccess {
  size: number;
  read(offset: number, length: number): Promise<Uint8Array>;
}

const most = { entries: 2000, expanded: 1024 ** 3 };
const unixLink = 0o120000;

class AccessReader extends Reader<RandomAccess> {
  private readonly source: RandomAccess;

  constructor(source: RandomAccess) {
    super(source);
    this.source = source;
    this.size = source.size;
  }

  override readUint8Array(index: number, length: number): Promise<Uint8Array<ArrayBuffer>> {
    return this.source.read(index, length) as Promise<Uint8Array<ArrayBuffer>>;
  }
}

/** Bytes in memory as a source. */
export function bytesAccess(bytes: Uint8Array): RandomAccess {
  return {
    size: bytes.length,
    read: (offset, length) => Promise.resolve(bytes.slice(offset, offset + length)),
  };
}

/**
 * The files of a zip. The number of entries and the expanded size are held before anything is expanded, and the size
 * again while expanding, since a directory may lie.
 *
 * @throws FormatError for an entry that leaves the zip, is encrypted or repeated, for too many or too large entries,
 *   and where the zip is corrupt
 */
export async function zipFiles(source: RandomAccess, file: string): Promise<PackageFiles> {
  const entries = await listEntries(source, file);
  const top = topFolder([...entries.keys()]);
  const nameIn = (name: string): string => (top === null ? name : `${top}/${name}`);
  return {
    remarks: top === null ? [] : [`the content of the zip is in the folder "${clipText(top)}"`],
    stat: (name) => {
      const entry = entries.get(nameIn(name));
      return Promise.resolve(entry ? { size: entry.uncompressedSize, link: isLink(entry) } : null);
    },
    open: (name) => expand(entries.get(nameIn(name)), file, name),
  };
}

async function listEntries(source: RandomAccess, file: string): Promise<Map<string, FileEntry>> {
  const entries = new Map<string, FileEntry>();
  const seen = new Set<string>();
  let expanded = 0;
  let count = 0;
  try {
    const reader = new ZipReader(new AccessReader(source), { useWebWorkers: false, filenameValidation: 'tolerant' });
    for await (const entry of reader.getEntriesGenerator()) {
      if (++count > most.entries) throw new FormatError(file, '', `the zip has more than ${most.entries} entries`);
      checkEntry(entry, file);
      expanded += entry.uncompressedSize;
      if (!(expanded <= most.expanded)) throw new FormatError(file, '', 'the zip expands to more than 1 GB');
      if (seen.has(entry.filename))
        throw new FormatError(file, clipText(entry.filename, 80), 'the zip contains this entry twice');
      seen.add(entry.filename);
      if (!entry.directory) entries.set(entry.filename, entry);
    }
  } catch (error) {
    if (error instanceof FormatError) throw error;
    throw new FormatError(file, '', 'the file is corrupt or not a zip');
  }
  return entries;
}

function checkEntry(entry: Entry, file: string): void {
  const name = clipText(entry.filename, 80);
  const problem = pathProblem(entry.filename);
  if (problem) throw new FormatError(file, name, problem.replace('the package', 'the zip'));
  if (entry.encrypted) throw new FormatError(file, name, 'the entry is encrypted; expected a zip without a password');
}

function isLink(entry: FileEntry): boolean {
  return ((entry.externalFileAttributes >>> 16) & 0o170000) === unixLink;
}

/** Where everything lies in one folder, that folder. */
function topFolder(names: string[]): string | null {
  const own = names.filter((n) => !n.startsWith('__MACOSX/') && !n.endsWith('.DS_Store'));
  if (own.length === 0 || own.includes('case.json')) return null;
  const first = own[0].split('/')[0];
  return own.every((n) => n.startsWith(`${first}/`)) && own.includes(`${first}/case.json`) ? first : null;
}

const maxQueued = 16;

async function* expand(entry: FileEntry | undefined, file: string, name: string): AsyncGenerator<Uint8Array> {
  if (!entry) throw new FormatError(file, name, 'there is no such file');
  const queue: Uint8Array[] = [];
  const stop = new AbortController();
  const state: { ended: 'no' | 'whole' | 'corrupt' } = { ended: 'no' };
  let wake = (): void => undefined;
  let drained = (): void => undefined;
  const sink = new WritableStream<Uint8Array>({
    write: (block) => {
      queue.push(block);
      wake();
      return queue.length < maxQueued ? undefined : new Promise<void>((resolve) => (drained = resolve));
    },
  });
  entry
    .getData(sink, { checkSignature: true, useWebWorkers: false, signal: stop.signal })
    .then(
      () => (state.ended = 'whole'),
      () => (state.ended = 'corrupt'),
    )
    .finally(() => wake());
  const nothingYet = (): boolean => queue.length === 0 && state.ended === 'no';
  let size = 0;
  try {
    for (;;) {
      if (nothingYet()) await new Promise<void>((resolve) => (wake = resolve));
      const block = queue.shift();
      drained();
      if (!block) {
        if (nothingYet()) continue;
        break;
      }
      size += block.length;
      if (size > entry.uncompressedSize || size > most.expanded) {
        throw new FormatError(file, name, 'the entry expands to more than the zip states');
      }
      yield block;
    }
    if (state.ended !== 'whole') throw new FormatError(file, name, 'the entry is corrupt');
  } finally {
    stop.abort();
    drained();
  }
}
