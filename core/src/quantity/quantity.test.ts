import fc from 'fast-check';
import {
  formatCurrent,
  formatPercent,
  formatPower,
  formatResistance,
  formatSeconds,
  formatStatedCurrent,
  formatVoltage,
  parseQuantity,
  type Kind,
} from './index.ts';

const value = (text: string, kind: Kind = 'current'): number => {
  const parsed = parseQuantity(text, kind);
  if (!parsed.ok) throw new Error(parsed.error);
  return parsed.value;
};

describe('parseQuantity', () => {
  test.each([
    ['47 mA', 0.047],
    ['0.047', 0.047],
    ['0,047 A', 0.047],
    ['.047a', 0.047],
    ['47mA', 0.047],
    ['1.5 A', 1.5],
    ['250 µA', 0.00025],
    ['250uA', 0.00025],
    ['2e-3', 0.002],
    ['+0.1', 0.1],
    ['3 amps', 3],
  ])('reads %s', (text, amps) => expect(value(text)).toBeCloseTo(amps, 12));

  test.each([
    ['3.85V', 'voltage', 3.85],
    ['5 volts', 'voltage', 5],
    ['412 mV', 'voltage', 0.412],
    ['4k7', 'resistance', null],
    ['4.7 kΩ', 'resistance', 4700],
    ['2 MOhm', 'resistance', 2e6],
    ['2 mOhm', 'resistance', 0.002],
    ['1.2W', 'power', 1.2],
    ['2 min', 'time', 120],
    ['150 ms', 'time', 0.15],
    ['20 kHz', 'frequency', 20_000],
  ] as [string, Kind, number | null][])('reads %s as a %s', (text, kind, expected) => {
    const parsed = parseQuantity(text, kind);
    if (expected === null) expect(parsed.ok).toBe(false);
    else expect(parsed).toMatchObject({ ok: true, value: expected });
  });

  test.each([
    ['300 mAh', /charge \(current times hours\)/],
    ['12 Wh', /energy/],
    ['12 mV', /voltage; expected a current/],
    ['12 bananas', /not a known unit/],
    ['', /nothing entered/],
    ['abc', /not a number/],
    ['1e99', /more than a bench can measure/],
    ['NaN', /not a number/],
    ['Infinity', /not a number/],
    ['0x10', /not a known unit/],
  ])('refuses %s and says why', (text, why) => {
    const parsed = parseQuantity(text, 'current');
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.error).toMatch(why);
  });

  test('keeps the resolution of the digits', () => {
    expect(parseQuantity('47 mA', 'current')).toMatchObject({ decimals: 3 });
    expect(parseQuantity('0.047', 'current')).toMatchObject({ decimals: 3 });
    expect(parseQuantity('0.5 mA', 'current')).toMatchObject({ decimals: 4 });
    expect(parseQuantity('2', 'current')).toMatchObject({ decimals: 0 });
  });

  test('milli, comma and plain spellings of one value agree', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 99_999 }), (milli) => {
        const amps = milli / 1000;
        expect(value(`${milli} mA`)).toBeCloseTo(amps, 9);
        expect(value(String(amps).replace('.', ','))).toBeCloseTo(amps, 9);
        expect(value(`${amps}A`)).toBeCloseTo(amps, 9);
      }),
    );
  });

  test('never throws and never gives anything but a finite number', () => {
    fc.assert(
      fc.property(
        fc.string({ maxLength: 40 }),
        fc.constantFrom<Kind>('current', 'voltage', 'resistance', 'time'),
        (text, kind) => {
          const parsed = parseQuantity(text, kind);
          if (parsed.ok) expect(Number.isFinite(parsed.value)).toBe(true);
          else expect(parsed.error.length).toBeGreaterThan(5);
        },
      ),
      { numRuns: 2000 },
    );
  });
});

describe('formats', () => {
  test('currents read in milliamperes under one ampere', () => {
    expect(formatCurrent(0.1184, 0.001)).toBe('118 mA');
    expect(formatCurrent(0.00123)).toBe('1.23 mA');
    expect(formatCurrent(1.234, 0.001)).toBe('1.23 A');
    expect(formatCurrent(0.07, 0.01)).toBe('70 mA');
    expect(formatCurrent(0.0004, 0.001)).toBe('0 mA');
    expect(formatCurrent(-0.0000001)).toBe('0 mA');
  });

  test('nothing absurd reaches the screen', () => {
    for (const format of [
      formatCurrent,
      formatVoltage,
      formatPower,
      formatResistance,
      formatSeconds,
      formatPercent,
      formatStatedCurrent,
    ]) {
      for (const x of [NaN, Infinity, -Infinity]) expect(format(x)).toBe('–');
    }
    expect(formatVoltage(null)).toBe('–');
  });

  test('stated values carry no digits that nobody measured', () => {
    expect(formatStatedCurrent(3)).toBe('3 A');
    expect(formatStatedCurrent(0.001)).toBe('1 mA');
    expect(formatStatedCurrent(2.5)).toBe('2.5 A');
  });

  test('other quantities', () => {
    expect(formatVoltage(3.849)).toBe('3.85 V');
    expect(formatVoltage(20.02)).toBe('20.0 V');
    expect(formatPower(0.045)).toBe('45 mW');
    expect(formatPower(2.34)).toBe('2.3 W');
    expect(formatResistance(41_000)).toBe('41.0 kohm');
    expect(formatResistance(0.4)).toBe('0.40 ohm');
    expect(formatResistance(0.0004)).toBe('0.4 mohm');
    expect(formatResistance(0)).toBe('0.00 ohm');
    expect(formatResistance(2.2e6)).toBe('2.20 Mohm');
    expect(formatSeconds(0)).toBe('0 s');
    expect(formatSeconds(0.042)).toBe('42 ms');
    expect(formatSeconds(7.64)).toBe('7.6 s');
    expect(formatSeconds(45.4)).toBe('45 s');
    expect(formatSeconds(600)).toBe('10 min');
    expect(formatSeconds(9000)).toBe('2.5 h');
    expect(formatPercent(0.4567)).toBe('46 %');
    expect(formatPercent(0.002)).toBe('<1 %');
    expect(formatPercent(0.999)).toBe('>99 %');
    expect(formatPercent(1)).toBe('100 %');
  });

  test('a current that is shown is read back as the same within its digits', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.0001, max: 20, noNaN: true }), (amps) => {
        expect(Math.abs(value(formatCurrent(amps)) - amps)).toBeLessThanOrEqual(amps * 0.006 + 1e-6);
      }),
    );
  });
});
