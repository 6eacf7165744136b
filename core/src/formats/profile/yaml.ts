import { isScalar, parseDocument, visit, type Document } from 'yaml';
import { FormatError } from '../error.ts';
import { readJson } from '../package/json.ts';

/** Twenty times the longest profile that ships. */
const maxBytes = 500_000;

/**
 * Reads the YAML of a profile.
 *
 * @throws {FormatError} with the line for what is none, names a key twice, or uses aliases
 */
export function readYaml(bytes: Uint8Array, file: string): unknown {
  if (bytes.length > maxBytes)
    throw new FormatError(file, '', `the file is above ${maxBytes / 1e3} kB; expected a profile`);
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new FormatError(file, '', 'the file is not UTF-8 text; expected JSON or YAML');
  }
  // Aliases are not needed in a profile, and a few of them can stand for gigabytes.
  const document = parseDocument(text, { maxAliasCount: 0, uniqueKeys: false } as never);
  const [first] = document.errors;
  const doubled = first ? null : doubledKey(document);
  if (first || doubled !== null) {
    const offset = doubled ?? first.pos[0];
    const before = text.slice(0, offset).split('\n');
    throw new FormatError(
      file,
      `line ${before.length}, column ${before[before.length - 1].length + 1}`,
      first ? `the YAML is malformed (${first.code.toLowerCase().replaceAll('_', ' ')})` : 'this key is given twice',
    );
  }
  try {
    // By way of JSON, so that both forms pass the same checks of depth and numbers.
    return readJson(new TextEncoder().encode(JSON.stringify(document.toJS({ maxAliasCount: 0 }))), file);
  } catch (problem) {
    if (problem instanceof FormatError) throw problem;
    throw new FormatError(file, '', 'the YAML uses aliases; expected a profile without them');
  }
}

/** Where a key stands for the second time; null where none does. The parser's own look compares every key with every other. */
function doubledKey(document: Document): number | null {
  let found: number | null = null;
  visit(document, {
    Map: (_, { items }) => {
      const keys = new Set<unknown>();
      for (const { key } of items) {
        if (!isScalar(key)) continue;
        if (keys.has(key.value)) {
          found = key.range?.[0] ?? 0;
          return visit.BREAK;
        }
        keys.add(key.value);
      }
      return undefined;
    },
  });
  return found;
}

/**
 * The lines on which the places of findings stand in the text that was read, from 1; null for one that cannot be found.
 *
 * @param places such as `rails[2].nominalV`; a key that is missing is found at what should hold it
 */
export function linesOfPlaces(text: string, places: readonly string[]): (number | null)[] {
  let document: Document | null = null;
  return places.map((place) => {
    const line = /^line (\d+)/.exec(place);
    if (line) return Number(line[1]);
    document ??= parseDocument(text, { logLevel: 'silent', uniqueKeys: false });
    const path = place
      .replace(/\[(\d+)\]/g, '.$1')
      .split('.')
      .filter(Boolean)
      .map((key) => (/^\d+$/.test(key) ? Number(key) : key));
    for (let length = path.length; length > 0; length--) {
      const node = document.getIn(path.slice(0, length), true) as { range?: [number, number, number] } | undefined;
      if (node?.range) return text.slice(0, node.range[0]).split('\n').length;
    }
    return null;
  });
}
