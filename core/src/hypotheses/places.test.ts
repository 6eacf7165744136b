import { actionOf, checkOf, injectionOf, readingOf } from '../testing/cases.ts';
import { placeName } from '../case/index.ts';
import {
  elsewhereShare,
  isToldApart,
  likelySamePlace,
  nameOverlap,
  placeAt,
  placesOf,
  saidOneNet,
  sameNetByName,
  sameNetShare,
  samePlace,
  withNames,
} from './index.ts';
import { bareCase } from '../case/index.ts';

test('a place is its whole name, without regard to case, blanks and punctuation', () => {
  expect(placeName('5 V output,  S4')).toBe('5 v output s4');
  expect(samePlace('Standby 3.3 V, at the coil', 'standby 3.3 V at the coil')).toBe(true);
  expect(samePlace('5 V output, S4', '5 V output, S5')).toBe(false);
  expect(samePlace('coil 2', 'coil 21')).toBe(false);
  expect(samePlace('coil', 'coil by the hinge')).toBe(false);
  expect(samePlace('', '')).toBe(false);
});

test('left and right, first and second, letters and numbers tell places apart', () => {
  const apart: [string, string][] = [
    ['left capacitor at the charger chip', 'right capacitor at the charger chip'],
    ['first coil', 'second coil'],
    ['C12', 'C13'],
    ['5 V output, S4', '5 V output, S5'],
    ['before the fuse', 'behind the fuse'],
    ['capacitor at the plug', 'the other capacitor at the plug'],
    ['pad A of the switch', 'pad B of the switch'],
  ];
  for (const [a, b] of apart) {
    expect(isToldApart(a, b)).toBe(true);
    expect(likelySamePlace(a, b)).toBe(false);
    expect(sameNetByName(a, b)).toBeLessThan(1);
  }
  expect(isToldApart('speck by the hinge', 'the speck by the hinge')).toBe(false);
});

test('places come from what was measured to ground or fed, once each, with their circuit', () => {
  const on = (where: string, over = {}) =>
    readingOf({ mode: 'resistance', value: 1, where, circuit: 'rail.run', ...over });
  const places = placesOf({
    places: [],
    actions: [],
    checks: [],
    readings: [on('coil 2'), on('Coil  2'), on('fuse', { across: true }), on('pad', { circuit: null })],
    injections: [injectionOf('coil 2', 1, { circuit: 'rail.run' }), injectionOf('main', 1, { circuit: 'rail.main' })],
  });
  expect(places.map((p) => [p.circuit, p.name])).toEqual([
    ['rail.run', 'coil 2'],
    [null, 'pad'],
    ['rail.main', 'main'],
  ]);
  expect(placeAt(places, 'rail.run', 'COIL 2')?.key).toBe(places[0].key);
  expect(placeAt(places, 'rail.main', 'coil 2')).toBeNull();
});

test('what was found, what warmed and what was worked on are places while nobody knows their circuit', () => {
  const places = placesOf({
    places: [],
    readings: [],
    injections: [injectionOf('main', 1, { circuit: 'rail.main', hot: 'speck beside the hinge', hotCircuit: null })],
    checks: [
      checkOf('visual', 'residue', { where: 'corner by the plug', circuit: null }),
      checkOf('visual', 'clean', { where: 'the other corner', circuit: null }),
    ],
    actions: [
      actionOf('a1', 'remove', { circuit: null, target: 'burnt little part' }),
      actionOf('a2', 'refit', { circuit: null, target: 'Burnt little part' }),
      actionOf('a3', 'replace', { circuit: null, target: 'whole board', unit: 'board' }),
    ],
  });
  expect(places.map((p) => [p.circuit, p.name])).toEqual([
    ['rail.main', 'main'],
    [null, 'speck beside the hinge'],
    [null, 'corner by the plug'],
    [null, 'burnt little part'],
  ]);
});

test('two names most likely mean one place where they share what tells it, unless a number or a side tells them apart', () => {
  expect(
    likelySamePlace('the line at the speck beside the earpiece plug', 'speck of a capacitor beside the earpiece plug'),
  ).toBe(true);
  expect(likelySamePlace('third coil of the lower side', 'third coil of the upper side')).toBe(false);
  expect(likelySamePlace('capacitor 3 beside the plug', 'capacitor 4 beside the plug')).toBe(false);
  expect(sameNetByName('coil 2', 'Coil 2')).toBe(1);
  expect(sameNetByName('speck by the hinge', 'chip by the battery')).toBeLessThan(0.5);
});

test('the more of a circuit was named, the less is left elsewhere; a circuit of one net has one', () => {
  expect(elsewhereShare('rail.run', 1)).toBeGreaterThan(elsewhereShare('rail.run', 3));
  expect(elsewhereShare('rail.run', 50)).toBeGreaterThan(0);
  expect(sameNetShare('rail.main')).toBe(1);
  expect(sameNetShare('rail.run')).toBeLessThan(sameNetShare('rail.standby'));
});

test('two names overlap by the words that tell them apart', () => {
  expect(nameOverlap('coil of phase 2', 'phase 2 coil')).toBeGreaterThan(0.5);
  expect(nameOverlap('radio chip', 'storage chip')).toBeLessThan(0.5);
});

describe('a case with the circuits of its places', () => {
  const value = {
    ...bareCase({ class: 'laptop' }, []),
    readings: [readingOf({ mode: 'resistance', value: 0.4, where: 'main 12 V line', circuit: null })],
    injections: [injectionOf('speck by the plug', 0.9, { heat: 'one-spot', hot: 'companion chip', hotCircuit: null })],
    checks: [checkOf('visual', 'burnt', { where: 'Companion chip', circuit: null })],
    actions: [actionOf('a1', 'remove', { circuit: null, target: 'speck by the plug' })],
  };

  test('has those that the words of a part or of a net name by themselves', () => {
    const { readings, injections, checks, actions } = withNames(value);
    expect([readings[0].circuit, injections[0].circuit, injections[0].hotCircuit]).toEqual([
      'rail.main',
      null,
      'core.chipset',
    ]);
    expect([checks[0].circuit, actions[0].circuit]).toEqual(['core.chipset', null]);
  });

  test('what somebody said of a place counts above its words, and the latest name above all', () => {
    const said = { ...value, checks: [checkOf('visual', 'burnt', { where: 'companion chip', circuit: 'mgmt' })] };
    expect(withNames(said).injections[0].hotCircuit).toBe('mgmt');
    const named = withNames({
      ...said,
      places: [
        { where: 'companion chip', circuit: 'radio' },
        { where: 'Companion chip', circuit: 'pmic' },
        { where: 'speck by the plug', circuit: 'rail.boost' },
      ],
    });
    expect([named.injections[0].hotCircuit, named.checks[0].circuit]).toEqual(['pmic', 'pmic']);
    expect([named.injections[0].circuit, named.actions[0].circuit]).toEqual(['rail.boost', 'rail.boost']);
  });
});

test('places that were said to be on one net are one net whatever their names, and of one circuit', () => {
  const on = (where: string, circuit: 'rail.run' | null) => readingOf({ mode: 'resistance', value: 1, where, circuit });
  const value = withNames({
    ...bareCase({ class: 'phone' }, []),
    readings: [on('coil by the hinge', 'rail.run'), on('test pad', null), on('far corner', null)],
    places: [
      { where: 'coil by the hinge', circuit: null, net: 4 },
      { where: 'test pad', circuit: null, net: 4 },
      { where: 'far corner', circuit: null, net: 5 },
    ],
  });
  expect(value.readings.map((r) => r.circuit)).toEqual(['rail.run', 'rail.run', null]);
  const [coil, pad, corner] = placesOf(value);
  expect([saidOneNet(coil, pad), saidOneNet(coil, corner), saidOneNet(coil, null)]).toEqual([1, 0, null]);
});
