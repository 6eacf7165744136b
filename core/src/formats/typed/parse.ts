import { clipText, explainWrongUnit, findUnit, parseQuantity, type Kind } from '../../quantity/index.ts';
import { feeds, feedVolts, type Feed } from '../../catalogue/index.ts';
import { unknownSetup, type Contract, type Setup } from '../../case/index.ts';
import { TokenReader, tokeniseTyped, typedError, type Token } from './tokens.ts';

/** One thing read off the display, in order. Amperes, volts, seconds. */
export type TypedStep =
  | { kind: 'reading'; amps: number | null; volts: number | null; decimals: number; hold: boolean; at: number | null }
  | { kind: 'limit'; amps: number | null; hold: boolean; at: number | null }
  | { kind: 'off'; hold: boolean; at: number | null }
  | { kind: 'pulse'; amps: number; decimals: number; periodS: number }
  | { kind: 'loop'; steps: TypedStep[]; periodS: number }
  | { kind: 'prompt' };

export interface TypedLine {
  feed: Feed;
  voltageOnly: boolean;
  setup: Setup;
  /** What the meter's decoder said was agreed; null where nobody typed it. */
  contract: Contract | null;
  steps: TypedStep[];
}

const leftWords =
  '"port N", "flipped", a voltage, "limit" and a current, "board-alone", "half NAME", "no-battery", "with-battery", "unplugged NAME", "off", "asleep", "running", "contract" and a voltage, or ":"';
const rightWords = 'a reading, "|", "hold", "limit", "off", "pulse Ns", "( … ) loop Ns" or "@12s"';
const longestS = 7 * 86_400;

/**
 * Reads one line as a technician would write it, such as `battery 3.9V limit 3A: 0 | prompt 0.07 0.19 0.12 hold`.
 *
 * @param line one line, at most a thousand characters
 * @throws FormatError naming the column (from 1) and what was expected there
 */
export function parseTypedLine(line: string): TypedLine {
  const reader = new TokenReader(tokeniseTyped(line), line);
  const { feed, setup, voltageOnly, contract } = readLeft(reader);
  const steps = readSteps(reader, voltageOnly, false, setup.limitA);
  const readings = steps.filter((s) => s.kind !== 'prompt').length;
  if (readings === 0) throw typedError(reader.endColumn(), 'there is no reading; expected at least one, such as 0.07');
  return { feed, setup, voltageOnly, contract, steps };
}

function readLeft(reader: TokenReader): Omit<TypedLine, 'steps'> {
  const first = reader.next(`a feed: ${feeds.join(', ')}`);
  const feed = feeds.find((f) => f === first.text.toLowerCase());
  if (!feed) throw typedError(first.column, `"${clipText(first.text)}" is not a feed; expected ${feeds.join(', ')}`);
  const setup: Setup = { ...unknownSetup, unplugged: [] };
  let voltageOnly = false;
  let contract: Contract | null = null;
  for (;;) {
    const token = reader.next('":" between the setup and the readings');
    const word = token.quoted ? '' : token.text.toLowerCase();
    if (word === ':') return { feed, setup, voltageOnly, contract };
    if (word === 'port') setup.port = readPort(reader);
    else if (word === 'flipped') setup.flipped = true;
    else if (word === 'limit') setup.limitA = positive(reader, 'current', 'a current after "limit", such as 3A');
    else if (word === 'board-alone') setup.assembly = 'board-alone';
    else if (word === 'half') {
      setup.assembly = 'half';
      setup.half = readName(reader, 'half');
    } else if (word === 'no-battery') setup.battery = 'disconnected';
    else if (word === 'with-battery') setup.battery = 'connected';
    else if (word === 'unplugged') setup.unplugged.push(readName(reader, 'unplugged'));
    else if (word === 'voltage-only') voltageOnly = true;
    else if (word === 'off' || word === 'asleep' || word === 'running') setup.deviceState = word;
    else if (word === 'contract') contract = readContract(reader, token, feed);
    else setup.setV = readLeftVoltage(reader, token);
  }
}

/** `contract 20V 3.25A`: what the meter decoded; 5 V is what every port gives. */
function readContract(reader: TokenReader, at: Token, feed: Feed): Contract {
  if (feed !== 'usb-c') throw typedError(at.column, `a contract needs usb-c, and this line is on ${feed}`);
  const expectedVolts = 'a voltage after "contract", such as 20V';
  const volts = positive(reader, 'voltage', expectedVolts);
  const next = reader.peek();
  const isCurrent = next !== null && !next.quoted && /^[\d.,]+\s*m?a$/i.test(next.text);
  const amps = isCurrent ? positive(reader, 'current', 'a current, such as 3A') : null;
  return { kind: volts > feedVolts.raisedFrom ? 'pd' : 'default-5v', volts, amps };
}

function readPort(reader: TokenReader): number {
  const token = reader.next('a port number after "port"');
  if (!/^[1-9]\d?$/.test(token.text))
    throw typedError(token.column, `"${clipText(token.text)}" is not a port; expected a number from 1`);
  return Number(token.text);
}

function readName(reader: TokenReader, word: string): string {
  const token = reader.next(`a name after "${word}", one word or in double quotes`);
  if (!token.quoted && /^[:|()]$/.test(token.text)) {
    throw typedError(token.column, `expected a name after "${word}", one word or in double quotes`);
  }
  if (token.text.trim() === '') throw typedError(token.column, `the name after "${word}" is empty`);
  return token.text.trim();
}

function positive(reader: TokenReader, kind: Kind, expected: string): number {
  const token = withUnit(reader, reader.next(expected));
  const parsed = parseQuantity(token.text, kind);
  if (!parsed.ok) throw typedError(token.column, parsed.error);
  if (!(parsed.value > 0))
    throw typedError(token.column, `"${clipText(token.text)}" must be above 0; expected ${expected}`);
  return parsed.value;
}

function readLeftVoltage(reader: TokenReader, token: Token): number {
  const whole = withUnit(reader, token);
  if (!/^[+-]?[\d.,]/.test(whole.text))
    throw typedError(token.column, `"${clipText(token.text)}" is not expected here; expected ${leftWords}`);
  if (/^[\d.,]+$/.test(whole.text))
    throw typedError(token.column, `"${whole.text}" has no unit; expected a voltage such as 3.9V`);
  const parsed = parseQuantity(whole.text, 'voltage');
  if (!parsed.ok) throw typedError(token.column, parsed.error);
  refuseMilliVolts(whole);
  if (!(parsed.value > 0)) throw typedError(token.column, 'the set voltage must be above 0, such as 3.9V');
  return parsed.value;
}

/** `55 mA` as two words is one value. */
function withUnit(reader: TokenReader, token: Token): Token {
  const next = reader.peek();
  if (!next || next.quoted || !/^[+-]?[\d.,]+$/.test(token.text)) return token;
  if (!findUnit(next.text) && !explainWrongUnit(next.text)) return token;
  reader.next('');
  return { ...token, text: token.text + next.text };
}

function refuseMilliVolts(token: Token): void {
  if (/m(illi)?v(olts?)?$/i.test(token.text)) {
    throw typedError(
      token.column,
      `${clipText(token.text)} is in millivolts; currents are read in A or mA, voltages in V`,
    );
  }
}

function readSteps(reader: TokenReader, voltageOnly: boolean, inGroup: boolean, limitA: number | null): TypedStep[] {
  const steps: TypedStep[] = [];
  let volts: number | null = null;
  let pressed = false;
  let at: number | null = null;
  let atColumn = 1;
  let lastAt: number | null = null;
  for (;;) {
    const token = reader.peek();
    if (!token) {
      if (inGroup) throw typedError(reader.endColumn(), 'the group is not closed; expected ")"');
      if (at !== null) throw typedError(atColumn, 'a time without a reading after it; expected a reading such as 0.07');
      return steps;
    }
    const word = token.quoted ? '' : token.text.toLowerCase();
    if (inGroup && word === ')') return steps;
    reader.next(rightWords);
    if (inGroup && (word === '|' || word === 'prompt' || word === '(')) {
      throw typedError(token.column, `"${token.text}" is not allowed inside a group; expected a reading or ")"`);
    }
    if (word === '|' || word === 'prompt') {
      if (word === '|') reader.take('prompt');
      if (pressed) throw typedError(token.column, `"${token.text}" is given twice; expected one press in a line`);
      pressed = true;
      steps.push({ kind: 'prompt' });
    } else if (word === 'hold') holdLast(steps, token);
    else if (word === 'limit') steps.push(readLimit(steps, take()));
    else if (word === 'off') steps.push({ kind: 'off', hold: false, at: take() });
    else if (word === 'pulse') steps.push(readPulse(reader, steps, token));
    else if (word === '(') steps.push(readLoop(reader, voltageOnly, token, limitA));
    else if (word.startsWith('@')) {
      const time = readTime(token);
      if (lastAt !== null && time <= lastAt)
        throw typedError(token.column, `the times after "@" must increase; ${token.text} comes after @${lastAt}s`);
      at = lastAt = time;
      atColumn = token.column;
    } else {
      const value = readValue(withUnit(reader, token), voltageOnly);
      refuseBareMilliamps(token, value.amps, limitA);
      if (value.amps === null && !voltageOnly) {
        volts = value.volts;
        if (standsAlone(reader)) steps.push({ ...value, hold: false, at: take(), amps: volts === 0 ? 0 : null });
      } else steps.push({ ...value, volts: value.volts ?? volts, hold: false, at: take() });
    }
  }

  function take(): number | null {
    const taken = at;
    at = null;
    return taken;
  }
}

/** A voltage that no current follows is a reading by itself: `0V`, or `5V hold`. */
function standsAlone(reader: TokenReader): boolean {
  const next = reader.peek();
  if (!next) return true;
  const word = next.text.toLowerCase();
  if (/^[+-]?[\d.,]/.test(word)) return /v(olts?)?$/.test(word) || /^v(olts?)?$/i.test(reader.peek(1)?.text ?? '');
  return word !== 'limit' && word !== '(';
}

function readValue(token: Token, voltageOnly: boolean) {
  if (!/^[+-]?[\d.,]/.test(token.text))
    throw typedError(token.column, `"${clipText(token.text)}" is not expected here; expected ${rightWords}`);
  refuseMilliVolts(token);
  const isVolts = voltageOnly || /v(olts?)?$/i.test(token.text);
  const parsed = parseQuantity(token.text, isVolts ? 'voltage' : 'current');
  if (!parsed.ok) throw typedError(token.column, parsed.error);
  if (parsed.value < 0 || /^-/.test(token.text)) {
    throw typedError(token.column, `${clipText(token.text)} is negative; expected a reading of 0 or more`);
  }
  return {
    kind: 'reading' as const,
    amps: isVolts ? null : parsed.value,
    volts: isVolts ? parsed.value : null,
    decimals: parsed.decimals,
  };
}

/** A bare number is amperes. One that no supply gives, or that is far above the limit of this one, was read in mA. */
function refuseBareMilliamps({ text, column }: Token, amps: number | null, limitA: number | null): void {
  if (amps === null || /[a-z]/i.test(text) || amps <= farAbove * (limitA ?? mostBareA)) return;
  const limit = limitA === null ? 'more than any supply here gives' : `far above the limit of ${limitA} A`;
  throw typedError(
    column,
    `${clipText(text)} A is ${limit}; expected a unit: ${clipText(text)}mA or ${clipText(text)}A`,
  );
}

/** How many times its limit nobody reads off a supply, and the most amperes that a bench supply gives. */
const farAbove = 5;
const mostBareA = 6;

function readTime(token: Token): number {
  return readSeconds(token, token.text.slice(1), '"@" and a time, such as @12s');
}

function readSeconds(token: Token, text: string, expected: string): number {
  if (!/s$/i.test(text))
    throw typedError(token.column, `"${clipText(token.text)}" has no time in seconds; expected ${expected}`);
  const parsed = parseQuantity(text, 'time');
  if (!parsed.ok) throw typedError(token.column, `${parsed.error}; expected ${expected}`);
  if (parsed.value < 0 || parsed.value > longestS)
    throw typedError(token.column, `"${clipText(token.text)}" is out of range; expected ${expected}`);
  return parsed.value;
}

function holdLast(steps: TypedStep[], token: Token): void {
  const last = steps[steps.length - 1];
  if (!last || !('hold' in last)) throw typedError(token.column, '"hold" needs a reading before it, such as 0.12 hold');
  last.hold = true;
}

/** `2.0 limit` is one reading at the limit; `limit` alone takes the setup's. */
function readLimit(steps: TypedStep[], at: number | null): TypedStep {
  const last = steps[steps.length - 1];
  if (at === null && last?.kind === 'reading' && last.amps !== null && last.amps > 0 && !last.hold) {
    steps.pop();
    return { kind: 'limit', amps: last.amps, hold: false, at: last.at };
  }
  return { kind: 'limit', amps: null, hold: false, at };
}

function readPeriod(reader: TokenReader, word: string): number {
  const expected = `a period after "${word}", such as 6s`;
  const token = withUnit(reader, reader.next(expected));
  const seconds = readSeconds(token, token.text, expected);
  if (seconds < 0.01)
    throw typedError(token.column, `"${clipText(token.text)}" is too short a period; expected at least 0.01s`);
  return seconds;
}

function readPulse(reader: TokenReader, steps: TypedStep[], token: Token): TypedStep {
  const last = steps[steps.length - 1];
  if (last?.kind !== 'reading' || last.amps === null || last.amps === 0) {
    throw typedError(token.column, '"pulse" follows the level that the pulses reach, such as 0.4 pulse 0.3s');
  }
  const periodS = readPeriod(reader, 'pulse');
  steps.pop();
  return { kind: 'pulse', amps: last.amps, decimals: last.decimals, periodS };
}

function readLoop(reader: TokenReader, voltageOnly: boolean, open: Token, limitA: number | null): TypedStep {
  const steps = readSteps(reader, voltageOnly, true, limitA);
  reader.next('")"');
  if (steps.length === 0) throw typedError(open.column, 'the group is empty; expected readings between "(" and ")"');
  const word = reader.next('"loop" and a period after the group, such as loop 6s');
  if (word.text.toLowerCase() !== 'loop')
    throw typedError(
      word.column,
      `"${clipText(word.text)}" follows a group; expected "loop" and a period, such as loop 6s`,
    );
  return { kind: 'loop', steps, periodS: readPeriod(reader, 'loop') };
}
