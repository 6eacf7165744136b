/** A place to jump to in the text of a profile. */
interface OutlineEntry {
  line: number;
  name: string;
  deep: boolean;
}

/**
 * The lists of a profile and the elements in them, from its text as it stands, right or wrong: a key at the margin, and
 * every `id` below it. Reads YAML as it is written here and JSON with one key a line.
 */
export function outlineOf(text: string): OutlineEntry[] {
  const out: OutlineEntry[] = [];
  text.split('\n').forEach((written, k) => {
    const line = written.trimEnd();
    const key = /^(?: {2})?"?([a-zA-Z]+)"?:(?:\s*[[{])?$/.exec(line);
    const isMargin = key !== null && (/^[a-zA-Z]/.test(line) || /^ {2}"/.test(line));
    if (isMargin) out.push({ line: k + 1, name: key[1], deep: false });
    const id = /^(?:- *)?"?id"?:\s*"?([^",\s]+)"?,?$/.exec(line.trimStart());
    if (id && out.length > 0) out.push({ line: k + 1, name: id[1], deep: true });
  });
  return out;
}
