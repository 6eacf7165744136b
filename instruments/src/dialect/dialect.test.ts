import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import {
  dialectFormats,
  lineReader,
  readDialect,
  readLineDialect,
  readNumber,
  readScpiDialect,
  readScpiError,
  readSwitch,
  shippedDialects,
  usualLines,
  usualScpi,
} from './index.ts';

test('every file of data ships, and is listed once', () => {
  const files = readdirSync(join(__dirname, 'data')).map((name) => name.replace('.json', ''));
  expect(shippedDialects.map((d) => d.id).sort()).toEqual(files.sort());
});

describe('SCPI answers', () => {
  test.each([
    ['3.850', 3.85],
    [' +1.2E-3 ', 0.0012],
    ['.5', 0.5],
    ['12.00V', 12],
    ['0.120 A', 0.12],
    ['9.9E37', null],
    ['NaN', null],
    ['3,85', null],
    ['', null],
    ['3.85 W', null],
    ['#x?', null],
  ])('%p as a number', (answer, value) => expect(readNumber(answer)).toBe(value));

  test('every number that a supply can write is read back', () => {
    fc.assert(
      fc.property(fc.double({ min: -1e6, max: 1e6, noNaN: true }), fc.nat(6), (x, digits) => {
        expect(readNumber(x.toFixed(digits))).toBeCloseTo(Number(x.toFixed(digits)), 9);
        expect(readNumber(x.toExponential(digits))).toBe(Number(x.toExponential(digits)));
      }),
    );
  });

  test.each([
    ['1', true],
    ['ON', true],
    ['off', false],
    ['0 ', false],
    ['2', null],
    ['', null],
  ])('%p as a switch', (answer, value) => expect(readSwitch(answer)).toBe(value));

  test.each([
    ['0,"No error"', null],
    ['+0,"No error"', null],
    ['0', null],
    ['-113,"Undefined header"', '-113 Undefined header'],
    ['-222', '-222'],
    ['x', 'an answer that is not an error entry: "x"'],
  ])('%p as an error', (answer, value) => expect(readScpiError(answer)).toBe(value));
});

describe('the commands of another make', () => {
  const other = { ...usualScpi, id: 'other', measureBoth: null, mode: null, setVolts: 'VSET1:{value}' };

  test('are a file', () => expect(readScpiDialect(JSON.parse(JSON.stringify(other)))).toEqual(other));

  test.each([
    [{ setVolts: 'VOLT 5' }, 'setVolts needs {value} where the number goes'],
    [{ askOutput: { ask: 'OUTP?', pattern: '(' } }, 'askOutput.pattern is no pattern'],
    [{ measureBoth: { ask: 'M?', pattern: '(?<volts>1)' } }, 'measureBoth.pattern has no group named "amps"'],
    [
      { askVolts: { ask: 'V?', pattern: '(?=a)(?<value>1+)' } },
      'askVolts.pattern is no pattern: invalid or unsupported Perl syntax',
    ],
    [{ answer: { ends: 'silence' } }, 'answer.ms is a required field'],
    [{ terminator: 'x' }, 'terminator must be ""'],
    [{ numbers: { volts: { scale: 0 } } }, 'numbers.volts.scale must not be 0'],
    [{ setLimit: ['CURR', 'APPLY'] }, 'setLimit needs {value}'],
    [{ decimals: 40 }, 'decimals must be less than or equal to 9'],
    [{ measureVolts: undefined }, 'measureVolts is a required field'],
    [{ surprise: 1 }, 'this field has unspecified keys: surprise'],
    [{ mode: { ask: 'STAT?', cvBit: 1 } }, 'mode.ccBit is a required field'],
  ])('%p is refused with its place', (change, message) => {
    expect(() => readScpiDialect({ ...other, ...change })).toThrow(message);
  });

  test('something else altogether is refused', () => {
    expect(() => readScpiDialect('VOLT')).toThrow(RangeError);
    expect(() => readScpiDialect(null)).toThrow(RangeError);
  });
});

describe('meter lines', () => {
  const read = lineReader(usualLines);

  test('seconds, volts, amperes', () => {
    expect(read('12.05;5.021;0.047')).toEqual({ seconds: 12.05, volts: 5.021, amps: 0.047 });
    expect(read('12.05;5.021;')).toEqual({ seconds: 12.05, volts: 5.021, amps: NaN });
  });

  test.each(['', 'time;volts;amps', '12.05;5.0', 'x;5;0.1', '1;2;3A', ';5.021;0.1', '1;;', '\u00ff;;~'])(
    '%p is no measurement',
    (line) => expect(read(line)).toBeNull(),
  );

  test('whatever comes, reading never throws', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 80 }), (line) => {
        const found = read(line);
        if (found) expect(Number.isNaN(found.volts) && Number.isNaN(found.amps)).toBe(false);
      }),
    );
  });

  test('as JSON, in thousandths', () => {
    const json = readLineDialect({
      ...usualLines,
      kind: 'json',
      delimiter: null,
      columns: { volts: 'mV', amps: 'mA', seconds: null },
      scale: { volts: 0.001, amps: 0.001, seconds: 1 },
      rateHz: 10,
    });
    const one = lineReader(json);
    expect(one('{"mV": 5021, "mA": 47.5}')).toEqual({ volts: 5.021, amps: 0.0475, seconds: null });
    expect(one('{"mV": 5021}')).toBeNull();
    expect(one('{"mV": "5021", "mA": null}')).toEqual({ volts: 5.021, amps: NaN, seconds: null });
    expect(one('[1, 2]')).toBeNull();
    expect(one('{"mV": 1')).toBeNull();
    expect(one('7')).toBeNull();
  });

  test('by a pattern with named groups', () => {
    const pattern = readLineDialect({
      ...usualLines,
      kind: 'pattern',
      delimiter: null,
      pattern: String.raw`V=(?<v>[\d.]+)\s+I=(?<i>[\d.]+)`,
      columns: { volts: 'v', amps: 'i', seconds: null },
      rateHz: null,
    });
    expect(lineReader(pattern)('ch1 V=5.02  I=0.047 ok')).toEqual({ volts: 5.02, amps: 0.047, seconds: null });
    expect(lineReader(pattern)('V=  I=')).toBeNull();
  });

  test.each([
    [{ kind: 'delimited', delimiter: null }, 'delimiter is missing'],
    [{ kind: 'pattern', pattern: null }, 'pattern is missing'],
    [{ kind: 'pattern', pattern: '(' }, 'pattern is no pattern: missing closing )'],
    [
      { kind: 'pattern', pattern: '(?<v>a)(?<i>b)(?:\\1{1,9}){1,9}' },
      'references to groups cannot be matched in bounded time',
    ],
    [{ kind: 'pattern', pattern: '(?<v>1)', columns: { volts: 'v', amps: 'i', seconds: null } }, 'no group named "i"'],
    [{ columns: { volts: -1, amps: 2, seconds: null } }, 'columns.volts must be a name or the number of a column,'],
    [{ scale: { volts: 0, amps: 1, seconds: 1 } }, 'scale.volts must be a positive number'],
  ])('%p is refused with its place', (change, message) => {
    expect(() => readLineDialect({ ...usualLines, ...change })).toThrow(message);
  });
});

test('the examples of the documentation are dialects', () => {
  const text = readFileSync(join(__dirname, '../../../docs/instruments.md'), 'utf8');
  const blocks = (text.match(/(?:^ {4}.*\n)+/gm) ?? []).map((b) => JSON.parse(b) as { format: string });
  expect([...new Set(blocks.map((b) => b.format))].sort()).toEqual(Object.keys(dialectFormats).sort());
  for (const block of blocks) expect(readDialect(block)).toMatchObject(block);
});

test('what may be null may be left out', () => {
  for (const dialect of shippedDialects) {
    const bare = Object.fromEntries(Object.entries(dialect).filter(([, value]) => value !== null));
    expect(readDialect(bare)).toEqual(dialect);
  }
});
