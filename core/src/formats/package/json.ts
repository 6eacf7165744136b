import { FormatError } from '../error.ts';

const maxBytes = 16 * 1024 * 1024;
const deepest = 64;

/**
 * Reads JSON that came from outside: at most 16 MB, at most 64 levels deep, only finite numbers.
 *
 * @throws FormatError with the line and column of a syntax error
 */
export function readJson(bytes: Uint8Array, file: string): unknown {
  if (bytes.length > maxBytes) throw new FormatError(file, '', 'the file is above 16 MB');
  let text: string;
  try {
    text = new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    throw new FormatError(file, '', 'the file is not UTF-8 text; expected JSON');
  }
  checkDepth(text, file);
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    throw new FormatError(file, syntaxPlace(text, error), 'the JSON is malformed; expected a JSON object');
  }
  const place = firstNonFinite(value, '');
  if (place !== null) throw new FormatError(file, place, 'the number is not finite; expected a finite number');
  return value;
}

function checkDepth(text: string, file: string): void {
  let depth = 0;
  let inString = false;
  for (let k = 0; k < text.length; k++) {
    const c = text.charCodeAt(k);
    if (inString) {
      if (c === 92) k++;
      else if (c === 34) inString = false;
    } else if (c === 34) inString = true;
    else if (c === 123 || c === 91) {
      if (++depth > deepest)
        throw new FormatError(file, lineAndColumn(text, k), `the JSON is deeper than ${deepest} levels`);
    } else if (c === 125 || c === 93) depth--;
  }
}

function lineAndColumn(text: string, at: number): string {
  const before = text.slice(0, at);
  const line = before.split('\n').length;
  return `line ${line}, column ${at - before.lastIndexOf('\n')}`;
}

function syntaxPlace(text: string, error: unknown): string {
  const message = error instanceof Error ? error.message : '';
  const position = /position (\d+)/.exec(message);
  return position ? lineAndColumn(text, Number(position[1])) : lineAndColumn(text, text.length);
}

function firstNonFinite(value: unknown, place: string): string | null {
  if (typeof value === 'number') return Number.isFinite(value) ? null : place;
  if (Array.isArray(value)) {
    for (let k = 0; k < value.length; k++) {
      const found = firstNonFinite(value[k], `${place}[${k}]`);
      if (found !== null) return found;
    }
  } else if (value !== null && typeof value === 'object') {
    for (const [key, item] of Object.entries(value)) {
      const found = firstNonFinite(item, place === '' ? key : `${place}.${key}`);
      if (found !== null) return found;
    }
  }
  return null;
}
