/** The files of a package, wherever they lie. Names are relative, with forward slashes. */
export interface PackageFiles {
  /** Null where there is no such file. `link` is true where it is a link rather than a file. */
  stat(name: string): Promise<{ size: number; link: boolean } | null>;
  /** The content, in blocks. Errors are FormatErrors. */
  open(name: string): AsyncIterable<Uint8Array>;
  /** Remarks on how the package is put together. */
  remarks: string[];
}

/** Reads a file whole; stops with null once it is above `most` bytes. */
export async function readWhole(files: PackageFiles, name: string, most: number): Promise<Uint8Array | null> {
  const parts: Uint8Array[] = [];
  let size = 0;
  for await (const part of files.open(name)) {
    size += part.length;
    if (size > most) return null;
    parts.push(part);
  }
  const out = new Uint8Array(size);
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
