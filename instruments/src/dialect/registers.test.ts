import fc from 'fast-check';
import {
  parseDialect,
  readRegisterDialect,
  registersFor,
  registerTypes,
  usualRegisters,
  valueIn,
  type RegisterType,
  type RegisterValue,
} from './index.ts';

const value = (over: Partial<RegisterValue> = {}): RegisterValue => ({
  register: 0,
  function: 3,
  type: 'u16',
  words: 'high-first',
  scale: 1,
  write: 6,
  ...over,
});

describe('a value in registers', () => {
  test.each([
    ['u16', [1234], 1234],
    ['s16', [0xfffe], -2],
    ['u32', [0x0001, 0x0002], 65_538],
    ['s32', [0xffff, 0xfffe], -2],
    ['f32', [0x4048, 0xf5c3], 3.1400001],
  ] as const)('%s of %j', (type, registers, is) => {
    expect(valueIn(registers, value({ type }))).toBeCloseTo(is, 6);
    if (registers.length === 2)
      expect(valueIn([...registers].reverse(), value({ type, words: 'low-first' }))).toBeCloseTo(is, 6);
  });

  test('what is written is what is read, to a step', () => {
    const types = fc.constantFrom(...(Object.keys(registerTypes) as RegisterType[]));
    const words = fc.constantFrom<RegisterValue['words']>('high-first', 'low-first');
    fc.assert(
      fc.property(
        types,
        words,
        fc.constantFrom(0.001, 0.01, 1),
        fc.double({ min: 0, max: 32, noNaN: true }),
        (type, order, scale, x) => {
          const of = value({ type, words: order, scale });
          const registers = registersFor(x, of);
          expect(registers).toHaveLength(registerTypes[type].registers);
          expect(Math.abs(valueIn(registers ?? [], of) - x)).toBeLessThanOrEqual(scale / 2 + 1e-5);
        },
      ),
    );
  });

  test('what does not fit is not cut', () => {
    expect(registersFor(70, value({ scale: 0.001 }))).toBeNull();
    expect(registersFor(-1, value())).toBeNull();
    expect(registersFor(-1, value({ type: 's16' }))).toEqual([0xffff]);
  });
});

test.each([
  [{ setVolts: { register: 0, function: 4 } }, 'setVolts is an input register (function 4), which cannot be written'],
  [
    { setVolts: { register: 0, type: 'u32', write: 6 }, setLimit: { register: 20 } },
    'setVolts.write is 6, which writes one register',
  ],
  [{ amps: { register: 2 } }, 'volts and amps overlap at register 2'],
  [{ volts: { register: 2, type: 'f32' } }, 'volts and amps overlap'],
  [{ volts: { register: 2, scale: 0 } }, 'volts.scale must not be 0'],
  [{ volts: { register: 2, type: 'u64' } }, 'volts.type: "u64" is no type; expected one of u16'],
  [{ volts: { register: 70_000 } }, 'volts.register must be less than or equal to 65535'],
  [{ output: { register: 9, function: 2 } }, 'output is read with function 2, which cannot be written'],
  [{ output: null }, 'output, setVolts and setLimit are needed together'],
  [{ unit: 300 }, 'unit must be less than or equal to 247'],
])('%j is refused with its place', (change, message) => {
  expect(() => readRegisterDialect({ ...usualRegisters, ...change })).toThrow(message);
});

describe('the text of a file', () => {
  const text = JSON.stringify({ ...usualRegisters, volts: { register: 2, scale: 0 } }, null, 2);

  test('is refused with the line of the key', () => {
    const line = text.split('\n').findIndex((l) => l.includes('"volts"')) + 1;
    expect(() => parseDialect(text)).toThrow(`line ${line}: registers: volts.scale must not be 0`);
  });

  test('that is no JSON is refused with its line', () => {
    expect(() => parseDialect('{\n  "format": "umbral-scpi/1",\n  oops\n}')).toThrow(/^line 3: not JSON: /);
    expect(() => parseDialect('')).toThrow('not JSON');
    expect(() => parseDialect('null')).toThrow('format: expected one of umbral-scpi/1, umbral-registers/1');
  });
});
