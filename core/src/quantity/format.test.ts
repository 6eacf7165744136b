import fc from 'fast-check';
import {
  explainWrongUnit,
  findUnit,
  formatCurrent,
  formatPercent,
  formatPower,
  formatResistance,
  formatSeconds,
  formatStatedCurrent,
  formatVoltage,
  parseQuantity,
} from './index.ts';

const worked: [says: string, shown: string, expected: string][] = [
  ['a milliampere below one ampere rounds up to amperes', formatCurrent(0.9995), '1.00 A'],
  ['the last that is shown in milliamperes', formatCurrent(0.9994), '999 mA'],
  ['half a step of the instrument is still shown', formatCurrent(0.005, 0.01), '10 mA'],
  ['less than half a step is nothing', formatCurrent(0.0049, 0.01), '0 mA'],
  ['the smallest current without an instrument', formatCurrent(5e-6), '0.005 mA'],
  ['a current into the source keeps its sign', formatCurrent(-0.25, 0.001), '-250 mA'],
  ['no minus before nothing', formatVoltage(-0.001), '0.00 V'],
  ['a minus before ten volts', formatVoltage(-10), '-10.0 V'],
  ['a stated ampere', formatStatedCurrent(0.9995), '0.9995 A'],
  ['a stated limit under it', formatStatedCurrent(0.9994), '999.4 mA'],
  ['a stated current keeps four figures', formatStatedCurrent(1.23456), '1.235 A'],
  ['a tenth of a watt', formatPower(0.0995), '0.10 W'],
  ['the last in milliwatts', formatPower(0.0994), '99 mW'],
  ['a thousand ohm', formatResistance(1000), '1.00 kohm'],
  ['the last in ohm', formatResistance(999), '999 ohm'],
  ['a million ohm', formatResistance(1e6), '1.00 Mohm'],
  ['a hundredth of an ohm', formatResistance(0.00995), '0.01 ohm'],
  ['the last in milliohm', formatResistance(0.0099), '9.9 mohm'],
  ['five milliohm', formatResistance(0.005), '5.0 mohm'],
  ['a tenth of a second', formatSeconds(0.0995), '0.1 s'],
  ['the last in milliseconds', formatSeconds(0.0994), '99 ms'],
  ['nearly ten seconds', formatSeconds(9.95), '10 s'],
  ['under them', formatSeconds(9.94), '9.9 s'],
  ['a hundred seconds', formatSeconds(99.5), '1.7 min'],
  ['under them', formatSeconds(99.4), '99 s'],
  ['nine minutes and a half', formatSeconds(570), '9.5 min'],
  ['a quarter of an hour', formatSeconds(900), '15 min'],
  ['ninety-nine minutes', formatSeconds(5940), '1.6 h'],
  ['under them', formatSeconds(5939), '99 min'],
  ['half a microsecond', formatSeconds(5e-7), '0 ms'],
  ['less', formatSeconds(4e-7), '0 s'],
  ['a whole per cent', formatPercent(0.01), '1 %'],
  ['ninety-nine of them', formatPercent(0.99), '99 %'],
  ['none at all', formatPercent(0), '0 %'],
  ['below nothing', formatPercent(-0.5), '-50 %'],
];

test.each(worked)('%s: %s', (_, shown, expected) => {
  expect(shown).toBe(expected);
});

test.each([formatCurrent, formatVoltage, formatPower, formatResistance, formatSeconds, formatStatedCurrent])(
  'what was not measured is a dash, never nothing of it',
  (format) => {
    expect(format(null)).toBe('–');
    expect(format(0)).not.toBe('–');
  },
);

test('no quantity is shown in a unit that is too small for it', () => {
  const most: Record<string, number> = { mA: 999, mW: 99, mohm: 9.9, ohm: 999, kohm: 999, ms: 99, min: 99 };
  // Most of what can go wrong does so a hair under a power of ten, which a number drawn anywhere hardly ever is.
  const underPower = fc
    .tuple(fc.integer({ min: -6, max: 6 }), fc.constantFrom(0.94, 0.95, 0.99, 0.995, 0.9951, 0.999, 0.9995, 0.99951, 1))
    .map(([power, share]) => share * 10 ** power);
  fc.assert(
    fc.property(fc.oneof(fc.double({ min: 1e-7, max: 1e7, noNaN: true }), underPower), (x) => {
      for (const shown of [formatCurrent(x), formatPower(x), formatResistance(x), formatSeconds(x)]) {
        const [value, unit] = shown.split(' ');
        expect(Number(value)).toBeLessThanOrEqual(most[unit] ?? Infinity);
      }
    }),
  );
});

describe('what a person types', () => {
  test('spaces around and between do not matter', () => {
    for (const text of ['  47 mA ', '47mA', '47   mA', '47\tmA'])
      expect(parseQuantity(text, 'current')).toMatchObject({ ok: true, value: 0.047, stated: 'mA' });
  });

  test('a bare number states no unit', () => {
    expect(parseQuantity('0.5', 'voltage')).toMatchObject({ ok: true, value: 0.5, stated: null, decimals: 1 });
  });

  test('the largest that a bench measures is taken, and not more', () => {
    expect(parseQuantity('1000', 'current').ok).toBe(true);
    expect(parseQuantity('1001', 'current')).toMatchObject({
      ok: false,
      error: expect.stringContaining('more than a bench can measure'),
    });
    expect(parseQuantity('-1001', 'current').ok).toBe(false);
  });

  test('a text too long for a number is refused and quoted in part', () => {
    const long = `${'1'.repeat(121)} A`;
    const read = parseQuantity(long, 'current');
    expect(read).toMatchObject({ ok: false, error: expect.stringContaining(`"${'1'.repeat(39)}…" is not a number`) });
    expect(parseQuantity('0'.repeat(119) + '1', 'current')).toMatchObject({ ok: true, value: 1 });
  });

  test.each([
    ['500 mAh', 'charge'],
    ['2 Ah', 'charge'],
    ['3 kWh', 'energy'],
    ['40 Wh', 'energy'],
  ])('%s is told to be a %s', (text, word) => {
    expect(parseQuantity(text, 'current')).toMatchObject({ ok: false, error: expect.stringContaining(word) });
  });

  test('a unit of another quantity, and one that is none, are said', () => {
    expect(parseQuantity('5 V', 'current')).toMatchObject({
      ok: false,
      error: 'V is a voltage; expected a current in A',
    });
    expect(parseQuantity('5 parsec', 'time')).toMatchObject({
      ok: false,
      error: expect.stringContaining('not a known unit'),
    });
    expect(explainWrongUnit('mA')).toBeNull();
    expect(explainWrongUnit(' mAh ')).toBe('mAh is a charge (current times hours)');
    expect(explainWrongUnit('xmAh')).toBeNull();
    expect(explainWrongUnit('mAhx')).toBeNull();
    expect(explainWrongUnit('xWh')).toBeNull();
    expect(explainWrongUnit('Whx')).toBeNull();
  });

  test.each<[string, ReturnType<typeof findUnit>]>([
    [' MOhm ', { kind: 'resistance', factor: 1e6 }],
    ['MHz', { kind: 'frequency', factor: 1e6 }],
    ['MΩ', { kind: 'resistance', factor: 1e6 }],
    ['Mr', { kind: 'resistance', factor: 1e6 }],
    ['mohm', { kind: 'resistance', factor: 1e-3 }],
    ['mHz', { kind: 'frequency', factor: 1e-3 }],
    ['MA', { kind: 'current', factor: 1e-3 }],
    ['xMohm', null],
    ['Mohmx', null],
    ['h', { kind: 'time', factor: 3600 }],
    ['min', { kind: 'time', factor: 60 }],
    ['°C', { kind: 'temperature', factor: 1 }],
    ['', null],
  ])('the unit %s', (text, unit) => {
    expect(findUnit(text)).toEqual(unit);
  });
});
