import { RE2JS } from 're2js';

/**
 * A pattern of a taught or shared language. It is matched in a time that grows with the length of the text alone (RE2), whatever
 * pattern and text are: whoever wrote them may mean harm.
 */
export interface Pattern {
  /** The named groups of the first place that it matches; null for none. */
  exec(text: string): Record<string, string | undefined> | null;
}

/** Steps of the matcher for each character; what instruments send needs a few dozen. */
const mostSteps = 600;
/** Characters of a text that are looked at: of an answer that is longer, the beginning. */
const mostCharacters = 512;

/** @throws {SyntaxError} for what is no pattern, or none that is matched in bounded time, in words */
export function patternOf(text: string): Pattern {
  let compiled: RE2JS;
  try {
    compiled = RE2JS.compile(text);
  } catch (error) {
    const why = error instanceof Error ? error.message.replace(/^error parsing regexp: /, '') : String(error);
    throw new SyntaxError(/Perl syntax|escape sequence|named capture/.test(why) ? `${why}; ${notBounded}` : why);
  }
  if (compiled.programSize() > mostSteps) throw new SyntaxError(`it repeats too much to be matched in bounded time`);
  const names = Object.keys(compiled.namedGroups());
  return {
    exec: (whole) => {
      const matcher = compiled.matcher(whole.slice(0, mostCharacters));
      if (!matcher.find()) return null;
      return Object.fromEntries(names.map((name) => [name, matcher.group(name) ?? undefined]));
    },
  };
}

const notBounded = 'looking ahead or behind and references to groups cannot be matched in bounded time';

/**
 * What is wrong with a pattern that a file gives; null for nothing.
 *
 * @param groups names of the groups that it needs
 */
export function patternProblem(pattern: string, groups: readonly string[]): string | null {
  try {
    patternOf(pattern);
  } catch (error) {
    if (!(error instanceof SyntaxError)) throw error;
    return `is no pattern: ${error.message}`;
  }
  const missing = groups.find((name) => !pattern.includes(`(?<${name}>`));
  return missing === undefined ? null : `has no group named "${missing}"`;
}
