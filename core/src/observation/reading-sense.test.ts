import fc from 'fast-check';
import { readingOf } from '../testing/cases.ts';
import { isAcross, nominalOf, senseOf } from './reading-sense.ts';

const ohm = (value: number | null, over: Partial<Parameters<typeof readingOf>[0]> = {}) =>
  readingOf({ mode: 'resistance', value, circuit: 'rail.run', ...over });
const volts = (value: number | null, over: Partial<Parameters<typeof readingOf>[0]> = {}) =>
  readingOf({ mode: 'voltage', value, circuit: 'rail.run', ...over });
const word = (reading: Parameters<typeof senseOf>[0]): string => {
  const sense = senseOf(reading);
  return sense.of === 'nothing' ? 'nothing' : `${sense.of} ${sense.word}`;
};

describe('to ground', () => {
  test.each([
    ['under three ohm is a hard short', ohm(2.9), 'ground short'],
    ['three to thirty ohm on a standby rail is one as well', ohm(12, { circuit: 'rail.standby' }), 'ground short'],
    ['three to thirty ohm on a rail of big chips is only low', ohm(12), 'ground low'],
    ['kilo-ohms are sound', ohm(4000), 'ground normal'],
    ['a core rail reads low when it is well', ohm(1.2, { circuit: 'core.supply' }), 'nothing'],
    ['a core rail against a good board', ohm(0.2, { circuit: 'core.supply', reference: 1.2 }), 'ground low'],
    ['as the good board reads', ohm(88, { reference: 90 }), 'ground normal'],
    ['a thirtieth of the good board', ohm(2, { reference: 300 }), 'ground short'],
    ['open line without a good board: no short', ohm(null, { ol: true }), 'ground normal'],
    ['open line where a good board reads', ohm(null, { ol: true, reference: 40 }), 'ground high'],
  ])('%s', (_, reading, expected) => expect(word(reading)).toBe(expected));

  test.each([
    ['zero in diode mode says the same as a short', 0.01, null, 'ground short'],
    ['a drop of a sound line without a good board is no short', 0.4, null, 'ground normal'],
    ['a third of the good board is low', 0.1, 0.45, 'ground low'],
    ['as the good board', 0.44, 0.45, 'ground normal'],
  ])('%s', (_, value, reference, expected) =>
    expect(word(readingOf({ mode: 'diode', value, reference, circuit: 'rail.run' }))).toBe(expected),
  );

  test('less resistance is never better', () => {
    const rank = ['ground short', 'ground low', 'ground normal', 'ground high'];
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 5000, noNaN: true }),
        fc.double({ min: 0, max: 5000, noNaN: true }),
        fc.constantFrom('rail.main' as const, 'rail.run' as const, 'rail.standby' as const),
        (a, b, circuit) => {
          const [low, high] = [Math.min(a, b), Math.max(a, b)];
          expect(rank.indexOf(word(ohm(low, { circuit })))).toBeLessThanOrEqual(
            rank.indexOf(word(ohm(high, { circuit }))),
          );
        },
      ),
    );
  });
});

describe('across a part', () => {
  test.each([
    ['tenths of an ohm are a good fuse', ohm(0.1, { across: true }), 'across conducts'],
    ['open', ohm(null, { across: true, ol: true }), 'across open'],
    ['kilo-ohms are open', ohm(5000, { across: true }), 'across open'],
    ['the good part reads as a conductor does', ohm(0.1, { reference: 0.1 }), 'across conducts'],
    ['a core rail of half an ohm is no fuse', ohm(0.5, { circuit: 'core.supply', reference: 0.6 }), 'ground normal'],
  ])('%s', (_, reading, expected) => expect(word(reading)).toBe(expected));

  test('is a reading of ohms, not of volts', () => {
    expect(isAcross(volts(0.1, { across: true }))).toBe(false);
    expect(isAcross(ohm(0.1, { across: true }))).toBe(true);
  });
});

describe('voltages', () => {
  test.each([
    ['stands', volts(3.28, { reference: 3.3 }), 'voltage present'],
    ['too low', volts(2.2, { reference: 3.3 }), 'voltage low'],
    ['missing', volts(0.1, { reference: 3.3 }), 'voltage missing'],
    [
      'swings between nothing and what it should be',
      volts(1.5, { reference: 3.3, swing: { low: 0, high: 3.3 } }),
      'voltage swings',
    ],
    [
      'moves a little while it stands',
      volts(3.3, { reference: 3.3, swing: { low: 3.28, high: 3.32 } }),
      'voltage present',
    ],
    ['more than it should be', volts(5, { reference: 3.3 }), 'voltage high'],
    ['a line that should be at nothing', volts(0.9, { reference: 0 }), 'voltage high'],
    ['not asked to start', volts(0, { reference: 3.3, state: 'S0', prompted: false }), 'nothing'],
    ['stands though nobody asked', volts(3.3, { reference: 3.3, state: 'S0', prompted: false }), 'voltage present'],
    ['nothing where nobody knows what should be', volts(0.02), 'voltage missing'],
    ['something where nobody knows what should be', volts(1.1), 'voltage present'],
    ['in between, where nobody knows', volts(0.3), 'nothing'],
    ['no open line in volts', volts(null, { ol: true }), 'nothing'],
  ])('%s', (_, reading, expected) => expect(word(reading)).toBe(expected));

  test('what should stand there: the good board, the name, then what was stated for the main rail', () => {
    expect(nominalOf(volts(1, { reference: 1.8, where: 'standby 3.3 V' }), {})).toBe(1.8);
    expect(nominalOf(volts(1, { where: 'standby 3,3 V' }), {})).toBe(3.3);
    expect(nominalOf(volts(1, { where: 'coil', circuit: 'rail.main' }), { mainV: 12 })).toBe(12);
    expect(nominalOf(volts(1, { where: 'coil' }), { mainV: 12 })).toBeNull();
  });
});

test('what says nothing says why', () => {
  for (const reading of [ohm(1, { circuit: 'core.soc' }), volts(0.3), ohm(5, { bound: 'above' })]) {
    const sense = senseOf(reading);
    expect(sense).toMatchObject({ of: 'nothing', why: { id: expect.any(String) } });
  }
});
