import { clipText } from '../../quantity/index.ts';
import { FormatError } from '../error.ts';

export interface Token {
  text: string;
  /** From 1. */
  column: number;
  quoted: boolean;
}

/** An error in a typed line; `column` from 1. */
export function typedError(column: number, problem: string): FormatError {
  return new FormatError('', `column ${column}`, problem);
}

const longest = 2000;

/** Splits a typed line into words; `:`, `|`, `(`, `)` stand alone, a name in double quotes is one word. */
export function tokeniseTyped(line: string): Token[] {
  if (line.length > longest) throw typedError(longest, `the line is longer than ${longest} characters`);
  const tokens: Token[] = [];
  const pattern = /"([^"]*)"|(")|([:|()])|([^\s:|()"]+)/g;
  for (const match of line.matchAll(pattern)) {
    const column = (match.index ?? 0) + 1;
    if (match[2] !== undefined) throw typedError(column, 'a quote is opened here but not closed; expected "NAME"');
    const quoted = match[1] !== undefined;
    const text = match[1] ?? match[3] ?? match[4];
    if (/[\u0000-\u0008\u000e-\u001f\u007f]/.test(text)) {
      throw typedError(column, `"${clipText(text)}" contains control characters; expected plain text`);
    }
    tokens.push({ text, column, quoted });
  }
  return tokens;
}

/** Walks over the tokens of a line. */
export class TokenReader {
  private at = 0;
  private readonly tokens: Token[];
  private readonly line: string;

  constructor(tokens: Token[], line: string) {
    this.tokens = tokens;
    this.line = line;
  }

  peek(ahead = 0): Token | null {
    return this.tokens[this.at + ahead] ?? null;
  }

  next(expected: string): Token {
    const token = this.tokens[this.at];
    if (!token) throw typedError(this.endColumn(), `the line ends here; expected ${expected}`);
    this.at++;
    return token;
  }

  /** Takes the next token if it is this word, whatever its case. */
  take(word: string): Token | null {
    const token = this.peek();
    if (!token || token.quoted || token.text.toLowerCase() !== word) return null;
    this.at++;
    return token;
  }

  endColumn(): number {
    return this.line.trimEnd().length + 1;
  }
}
