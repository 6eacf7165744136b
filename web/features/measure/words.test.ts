import type { LadderRung, ProposedTest, RungPhase } from '@umbral/core';
import { nextOpen, readingIn, sayOutcome, sayPhase, sayRead, sayReference, sayTest } from './words.ts';

const silent: RungPhase = { expected: true, seen: null, implied: null, from: null };
const seen = (finding: 'present' | 'missing' | 'low' | 'swinging') => ({
  ...silent,
  seen: { reading: 0, finding, value: 1, ol: false, swing: null, against: null },
});
const rung = (id: string, after: RungPhase = silent, over: Partial<LadderRung> = {}): LadderRung => ({
  id,
  name: id,
  state: 'run',
  circuit: 'rail.run',
  nominalV: 1.8,
  depth: 3,
  capacitors: 4,
  half: null,
  phases: { before: { ...silent, expected: false }, after, plugged: { ...silent, expected: false } },
  diode: null,
  resistance: null,
  shorted: 0,
  ...over,
});

describe('how a rail stands', () => {
  test.each([
    ['stands', seen('present'), 'good'],
    ['missing', seen('missing'), 'bad'],
    ['too low', seen('low'), 'bad'],
    ['comes and goes', seen('swinging'), 'bad'],
    ['off, as it should be', { ...seen('missing'), expected: false }, 'none'],
    ['implied by core', { ...silent, implied: 'present' as const, from: 'core' }, 'implied'],
    ['explained by main', { ...silent, implied: 'explained' as const, from: 'main' }, 'implied'],
    ['', silent, 'none'],
    ['not expected', { ...silent, expected: false }, 'none'],
  ])('%s', (word, phase, tone) => {
    expect(sayPhase(phase)).toEqual({ word, tone });
  });

  test('what was measured wins over what follows', () => {
    expect(sayPhase({ ...seen('present'), implied: 'explained', from: 'main' }).word).toBe('stands');
  });
});

describe('the next rung', () => {
  const ladder = [
    rung('a', seen('present')),
    rung('b'),
    rung('c', { ...silent, implied: 'present', from: 'd' }),
    rung('d'),
    rung('e', { ...silent, expected: false }),
  ];

  test('is the next one below that is open: not measured, not implied, expected to stand', () => {
    expect(nextOpen(ladder, 'b', 'voltage', 'after')).toBe('d');
    // From the last one round to the first that is open.
    expect(nextOpen(ladder, 'd', 'voltage', 'after')).toBe('b');
  });

  test('to ground every rail is open, whatever stands or follows', () => {
    expect(nextOpen(ladder, 'b', 'resistance', 'after')).toBe('c');
    expect(nextOpen(ladder, 'e', 'resistance', 'after')).toBe('a');
  });

  test('is none where all of it is known, and none on a ladder without rungs', () => {
    expect(nextOpen([rung('a', seen('present')), rung('b', seen('missing'))], 'a', 'voltage', 'after')).toBeNull();
    expect(nextOpen([], 'a', 'voltage', 'after')).toBeNull();
  });

  test('the reading of a rail is that of the mode', () => {
    const resistance = { reading: 1, finding: null, value: 0.4, ol: false, swing: null, against: null };
    const one = rung('a', seen('present'), { resistance });
    expect(readingIn(one, 'resistance', 'after')).toBe(resistance);
    expect(readingIn(one, 'diode', 'after')).toBeNull();
    expect(readingIn(one, 'voltage', 'before')).toBeNull();
  });
});

describe('what was read', () => {
  test('open, swinging, ohms and volts', () => {
    expect(sayRead({ value: null, ol: true, swing: null }, 'diode')).toBe('open line');
    expect(sayRead({ value: 1, ol: false, swing: { low: 0.4, high: 1.7 } }, 'voltage')).toBe('0.40 to 1.70 V');
    expect(sayRead({ value: 4700, ol: false, swing: null }, 'resistance')).toBe('4.70 kohm');
    expect(sayRead({ value: 1.79, ol: false, swing: null }, 'voltage')).toBe('1.79 V');
  });

  test('a good board says which way the probes stood, where it is not the usual one', () => {
    expect(sayReference('diode', 0.41, false, 'ground')).toBe('diode mode 0.41 V');
    expect(sayReference('diode', 0.41, false, 'point')).toBe('diode mode 0.41 V, red on the point');
    expect(sayReference('resistance', null, true, 'ground')).toBe('resistance open');
  });
});

describe('a proposed test', () => {
  const test0: ProposedTest = {
    id: 'voltage:io:after',
    kind: 'voltage',
    at: ['io'],
    names: ['I/O rail'],
    phase: 'after',
    minutes: 1,
    depth: 3,
    bits: 0.62,
    minutesInAll: 19.4,
    worth: 0.03,
    predicts: [
      { element: { id: 'io', name: 'I/O rail', circuit: 'rail.run' }, p: 0.3, outcome: 'down', certainty: 0.95 },
    ],
  };

  test('says where, when, what it is worth and what each suspect expects', () => {
    expect(sayTest(test0)).toMatchObject({
      title: 'Voltage at I/O rail, while it holds',
      mode: 'voltage',
      says: '0.6 bits in 19 min',
      predicts: [{ name: 'I/O rail', says: 'missing, 95 %' }],
    });
    expect(sayTest(test0).risk).not.toBe('');
  });

  test('outputs of one converter are named together, with a word for each', () => {
    const both = { ...test0, kind: 'resistance' as const, phase: null, names: ['I/O rail', 'memory rail'] };
    expect(sayTest(both)).toMatchObject({ title: 'I/O rail and memory rail to ground, unpowered', mode: 'resistance' });
    expect(sayOutcome('low+sound')).toBe('low to ground, not low');
    expect(sayOutcome('backlight-only')).toBe('backlight only');
  });

  test.each([
    ['unplug', /^Unplug I\/O rail while it records/],
    ['inject', /^Put a safe voltage on I\/O rail/],
    ['replace', /^Replace I\/O rail, with a run before and after/],
  ] as const)('%s is not typed into the ladder', (kind, title) => {
    const said = sayTest({ ...test0, kind, phase: null });
    expect(said.title).toMatch(title);
    expect(said.mode).toBeNull();
  });

  test('a check has its own name', () => {
    expect(sayTest({ ...test0, kind: 'check', at: ['screen'], phase: null }).title).toBe('Look at the screen');
  });
});
