import fc from 'fast-check';
import { parseReading, type EntryContext, type TypedReading } from './entry.ts';

const at = (over: Partial<EntryContext> = {}): EntryContext => ({
  mode: 'voltage',
  leadsOhm: null,
  nominalV: null,
  ...over,
});

function reading(text: string, over: Partial<EntryContext> = {}): TypedReading & { asks: string[] } {
  const entry = parseReading(text, at(over));
  if (!entry.ok) throw new Error(entry.error);
  return { ...entry.reading, asks: entry.asks };
}

const error = (text: string, over: Partial<EntryContext> = {}): string => {
  const entry = parseReading(text, at(over));
  return entry.ok ? 'taken' : entry.error;
};

describe('what somebody types with a probe in the other hand', () => {
  test.each<[string, Partial<EntryContext>, Partial<TypedReading>]>([
    ['1.79', {}, { mode: 'voltage', value: 1.79, unit: 'V' }],
    ['1,79 V', {}, { mode: 'voltage', value: 1.79 }],
    ['412 mV', { mode: 'diode' }, { mode: 'diode', value: 0.412, unit: 'V' }],
    ['d .41', {}, { mode: 'diode', value: 0.41 }],
    ['r 12', {}, { mode: 'resistance', value: 12, unit: 'ohm' }],
    ['r4.7k', {}, { mode: 'resistance', value: 4700 }],
    ['4.7k', { mode: 'resistance' }, { mode: 'resistance', value: 4700 }],
    ['1M', { mode: 'resistance' }, { mode: 'resistance', value: 1e6 }],
    ['v: 3.8', { mode: 'diode' }, { mode: 'voltage', value: 3.8 }],
    ['OL', { mode: 'diode' }, { mode: 'diode', value: null, ol: true }],
    ['r 0L', {}, { mode: 'resistance', value: null, ol: true }],
    ['0', { mode: 'resistance' }, { mode: 'resistance', value: 0 }],
    ['47 kΩ', {}, { mode: 'resistance', value: 47_000 }],
  ])('%s', (text, over, expected) => {
    expect(reading(text, over)).toMatchObject(expected);
  });

  test('what swings is kept as what it swings between; a jumping last digit is none', () => {
    expect(reading('0.8~1.2')).toMatchObject({ value: 1, swing: { low: 0.8, high: 1.2 } });
    expect(reading('1200mV..0.8V')).toMatchObject({ swing: { low: 0.8, high: 1.2 } });
    expect(reading('1.79~1.80').swing).toBeNull();
    expect(error('0.8~1.2', { mode: 'resistance' })).toMatch(/only a voltage can swing/);
    expect(error('0.8~x')).toMatch(/not a number/);
  });

  test('the leads come off low resistances, and what the meter showed is kept', () => {
    expect(reading('r 0.9', { leadsOhm: 0.4 })).toMatchObject({ value: 0.5, shownOhm: 0.9 });
    expect(reading('r 400', { leadsOhm: 0.4 })).toMatchObject({ value: 400, shownOhm: null });
    expect(reading('r 0.2', { leadsOhm: 0.4 }).asks[0]).toMatch(/less than the leads alone/);
  });
});

describe('what cannot be, or hardly', () => {
  test.each<[string, Partial<EntryContext>, RegExp]>([
    ['', {}, /nothing entered; expected a voltage/],
    ['r -3', {}, /still a voltage on the rail/],
    ['900', { nominalV: 1.8 }, /Did you mean 0.90 V\? Then write 900 mV/],
    ['-0.3', { mode: 'diode' }, /still powered/],
    ['OL', {}, /OL is not a voltage/],
    ['3 A', {}, /is a current; expected a voltage/],
    ['20 mAh', {}, /is a charge/],
    ['12 parsec', {}, /not a known unit/],
    ['d 9 V', {}, /more than a meter shows/],
    ['1e400', {}, /more than a bench can measure/],
  ])('%s is refused by name', (text, over, says) => {
    expect(error(text, over)).toMatch(says);
  });

  test.each<[string, Partial<EntryContext>, RegExp]>([
    ['3.3', { nominalV: 1.8 }, /rated for 1.80 V/],
    ['-1.2', {}, /below ground/],
    ['412', { mode: 'diode' }, /the meter shows millivolts/],
    ['12 ohm', { mode: 'diode' }, /Save it as a resistance/],
    ['1.8 V', { mode: 'resistance' }, /Save it as a voltage/],
  ])('%s is taken with a question', (text, over, asks) => {
    expect(reading(text, over).asks.join(' ')).toMatch(asks);
  });

  test('a rail that is where it should be is asked nothing', () => {
    expect(reading('1.8', { nominalV: 1.8 }).asks).toEqual([]);
  });

  test('nothing that is typed throws, and what is taken is finite', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 24 }), fc.constantFrom('voltage', 'diode', 'resistance'), (text, mode) => {
        const entry = parseReading(text, at({ mode: mode as EntryContext['mode'], leadsOhm: 0.3 }));
        if (!entry.ok) expect(entry.error).not.toBe('');
        else if (!entry.reading.ol) expect(Number.isFinite(entry.reading.value)).toBe(true);
      }),
    );
  });

  test('a voltage typed plainly comes back as it was typed', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 59_999 }), (mV) => {
        expect(reading(`${mV} mV`).value).toBeCloseTo(mV / 1000, 9);
      }),
    );
  });
});
