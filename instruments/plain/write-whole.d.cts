/** Writes a file beside its place and renames it: whoever reads finds the old content or the new, never half of it. */
export function writeWhole(path: string, text: string, mode?: number): void;
