/** What a command does: the answer of a query, or nothing. */
type ScpiAction = (argument: string) => string | null;

/** An error that a command raises, for the error queue: number and text of SCPI-99. */
export class ScpiError extends Error {
  constructor(
    readonly code: number,
    text: string,
  ) {
    super(text);
    this.name = 'ScpiError';
  }
}

interface Node {
  pattern: RegExp;
  action: ScpiAction;
}

/**
 * The commands of an instrument, with the headers of SCPI-99: short and long forms, optional nodes in brackets, several
 * commands in one message where a header continues at the node of the one before.
 */
export class ScpiTree {
  private readonly nodes: Node[];

  /** @param commands by header as the standard writes it, `MEASure[:SCALar]:VOLTage[:DC]?` */
  constructor(commands: Record<string, ScpiAction>) {
    this.nodes = Object.entries(commands).map(([header, action]) => ({ pattern: patternOf(header), action }));
  }

  /**
   * Carries out a message.
   *
   * @param raise is given every error; the commands after it are left out, as the standard asks
   * @returns the answers, joined with `;`; null where nothing was asked
   */
  run(message: string, raise: (error: ScpiError) => void): string | null {
    const answers: string[] = [];
    let path = '';
    for (const part of splitOutsideQuotes(message)) {
      const text = part.trim();
      if (text === '') continue;
      const [written] = text.split(/\s/, 1);
      const argument = text.slice(written.length).trim();
      const isCommon = written.startsWith('*');
      const header = isCommon ? written : written.startsWith(':') ? written.slice(1) : path + written;
      const node = this.nodes.find((n) => n.pattern.test(header));
      if (!node) {
        raise(new ScpiError(-113, 'Undefined header'));
        break;
      }
      if (!isCommon) path = header.includes(':') ? header.slice(0, header.lastIndexOf(':') + 1) : '';
      try {
        const answer = node.action(argument.trim());
        if (answer !== null) answers.push(answer);
      } catch (error) {
        if (!(error instanceof ScpiError)) throw error;
        raise(error);
        break;
      }
    }
    return answers.length > 0 ? answers.join(';') : null;
  }
}

function splitOutsideQuotes(message: string): string[] {
  return message.match(/(?:[^;"]|"[^"]*"?)+/g) ?? [];
}

/** `VOLTage` is met by `VOLT` and `VOLTAGE`, in either case, with the suffix 1 of a single channel. */
function patternOf(header: string): RegExp {
  const source = header
    .replace(/[*?]/g, '\\$&')
    .replaceAll('[', '(?:')
    .replaceAll(']', ')?')
    .replace(/([A-Z]+)([a-z]+)/g, (_, short: string, rest: string) => `${short}(?:${rest.toUpperCase()})?1?`);
  return new RegExp(`^${source}$`, 'i');
}

const prefixes: Record<string, number> = { U: 1e-6, M: 1e-3, K: 1e3 };

/**
 * A decimal argument with its unit, or MIN, MAX, DEF.
 *
 * @throws {ScpiError} -104 for what is no number, -131 for a wrong unit, -222 out of range, -109 for nothing
 */
export function numberArgument(
  argument: string,
  { unit, least, most, usual }: { unit: 'V' | 'A' | 'S'; least: number; most: number; usual: number },
): number {
  const text = argument.toUpperCase();
  if (text === '') throw new ScpiError(-109, 'Missing parameter');
  if (/^MIN(IMUM)?$/.test(text)) return least;
  if (/^MAX(IMUM)?$/.test(text)) return most;
  if (/^DEF(AULT)?$/.test(text)) return usual;
  const match = /^([+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:E[+-]?\d+)?)\s*([A-Z]*)$/.exec(text);
  if (!match) throw new ScpiError(-104, 'Data type error');
  const [, digits, suffix] = match;
  const prefix = suffix.endsWith(unit) ? suffix.slice(0, -1) : null;
  if (suffix !== '' && (prefix === null || (prefix !== '' && !(prefix in prefixes))))
    throw new ScpiError(-131, 'Invalid suffix');
  const value = Number(digits) * (prefix ? prefixes[prefix] : 1);
  if (!(value >= least && value <= most)) throw new ScpiError(-222, 'Data out of range');
  return value;
}

/** @throws {ScpiError} for anything but ON, OFF, 1, 0 */
export function switchArgument(argument: string): boolean {
  const text = argument.toUpperCase();
  if (text === '') throw new ScpiError(-109, 'Missing parameter');
  if (['ON', '1'].includes(text)) return true;
  if (['OFF', '0'].includes(text)) return false;
  throw new ScpiError(-104, 'Data type error');
}
