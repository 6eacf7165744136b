import type { LadderRung, RungPhase, Suggestion } from '@umbral/core';
import { nextOpen, readingIn, sayGood, sayPhase, sayRead, sayReference, sayTest, statusOf } from './words.ts';

const silent: RungPhase = { expected: true, seen: null, implied: null, from: null };
const seen = (finding: 'present' | 'missing' | 'low' | 'swinging') => ({
  ...silent,
  seen: {
    reading: 0,
    finding,
    value: 1,
    ol: false,
    swing: null,
    unit: 'V' as const,
    says: null,
    bound: null,
    against: null,
    isShort: false,
    isOld: false,
    was: null,
  },
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
  facts: {
    nominalV: 1.8,
    feedsProcessor: false,
    coreBehind: false,
    isMain: false,
    capacitors: 4,
    maxV: 30,
    maxA: 5,
  },
  ...over,
});

describe('how a rail stands', () => {
  test.each([
    ['up', seen('present'), 'good'],
    ['missing', seen('missing'), 'bad'],
    ['too low', seen('low'), 'bad'],
    ['comes and goes', seen('swinging'), 'bad'],
    ['off, as expected', { ...seen('missing'), expected: false }, 'none'],
    ['implied by core', { ...silent, implied: 'present' as const, from: 'core' }, 'implied'],
    ['explained by main', { ...silent, implied: 'explained' as const, from: 'main' }, 'implied'],
    ['', silent, 'none'],
    ['not expected', { ...silent, expected: false }, 'none'],
  ])('%s', (word, phase, tone) => {
    expect(sayPhase(phase)).toEqual({ word, tone });
  });

  test('what was measured wins over what follows', () => {
    expect(sayPhase({ ...seen('present'), implied: 'explained', from: 'main' }).word).toBe('up');
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
    const resistance = {
      reading: 1,
      finding: null,
      value: 0.4,
      ol: false,
      swing: null,
      unit: 'ohm' as const,
      says: null,
      bound: null,
      against: null,
      isShort: false,
      isOld: false,
      was: null,
    };
    const one = rung('a', seen('present'), { resistance });
    expect(readingIn(one, 'resistance', 'after')).toBe(resistance);
    expect(readingIn(one, 'diode', 'after')).toBeNull();
    expect(readingIn(one, 'voltage', 'before')).toBeNull();
  });
});

describe('what was read', () => {
  test('a good board says which way the probes stood, where it is not the usual one', () => {
    expect(sayReference('diode', 0.41, false, 'ground')).toBe('diode mode 0.41 V');
    expect(sayReference('diode', 0.41, false, 'point')).toBe('diode mode 0.41 V, red on the point');
    expect(sayReference('resistance', null, true, 'ground')).toBe('resistance open');
  });
});

describe('a proposed test', () => {
  const test0: Suggestion = {
    kind: 'reading',
    check: null,
    action: null,
    where: 'io',
    mode: 'voltage',
    protocol: null,
    circuit: 'rail.run',
    at: ['io'],
    phase: 'after',
    minutes: 19.4,
    depth: 3,
    bits: 0.62,
    risk: 'battery off first',
    name: 'Measure I/O rail',
    why: '',
    predicts: [
      {
        circuit: 'rail.run',
        element: { id: 'io', name: 'I/O rail' },
        outcome: 'missing',
        likely: [{ outcome: 'missing', p: 0.95 }],
      },
    ],
  };

  test('says where, when, what it is worth and what each suspect expects', () => {
    expect(sayTest(test0)).toMatchObject({
      title: 'Measure I/O rail, after power-on',
      mode: 'voltage',
      at: ['io'],
      says: 'About 19 min',
      risk: 'battery off first',
      predicts: [{ name: 'I/O rail', says: 'missing, 95 %' }],
    });
  });

  test('of a model without a profile names its point', () => {
    const free = { ...test0, at: [], where: 'coil by the hinge', mode: 'resistance' as const, phase: null };
    expect(sayTest(free)).toMatchObject({ title: 'Measure I/O rail', at: ['coil by the hinge'], mode: 'resistance' });
  });

  test.each(['injection', 'action', 'check'] as const)('%s is not typed into the ladder', (kind) => {
    expect(sayTest({ ...test0, kind }).mode).toBeNull();
  });

  test('two tests at one point have ids of their own, a proof says why', () => {
    const other = { ...test0, mode: 'resistance' as const, phase: null };
    expect(sayTest(test0).id).not.toBe(sayTest(other).id);
    expect(sayTest({ ...test0, kind: 'verify', why: 'charge in every port' }).says).toBe('charge in every port');
  });
});

describe('how a rail stands on the map', () => {
  const read = (more: object = {}) => ({ ...seen('present').seen, finding: null, unit: 'ohm' as const, ...more });
  const against = (word: string, isTelling: boolean) => ({ against: { word, isTelling, ratio: 1, says: '' } as never });
  test.each([
    ['unknown', rung('a')],
    ['good', rung('a', seen('present'))],
    ['missing', rung('a', seen('missing'))],
    ['good', rung('a', { ...seen('missing'), expected: false })],
    ['odd', rung('a', seen('low'))],
    ['odd', rung('a', seen('swinging'))],
    ['shorted', rung('a', silent, { resistance: read({ isShort: true }) })],
    ['shorted', rung('a', seen('missing'), { shorted: 0.9 })],
    ['odd', rung('a', silent, { diode: read(against('much lower', true)) })],
    ['good', rung('a', silent, { diode: read(against('alike', false)) })],
    ['unknown', rung('a', silent, { resistance: read({ isShort: true, isOld: true }) })],
  ])('%s', (status, of) => expect(statusOf(of, 'after')).toBe(status));

  test('what was read before the last change is told apart from what is read now', () => {
    const was = { ...read({ value: 0.9 }), unit: 'ohm' as const };
    const of = rung('a', silent, { resistance: read({ value: 84, was }) });
    expect([sayRead(of, 'after', 'now'), sayRead(of, 'after', 'before')]).toEqual(['84.0 ohm', '0.90 ohm']);
    const old = rung('a', silent, { resistance: read({ value: 0.9, isOld: true }) });
    expect([sayRead(old, 'after', 'now'), sayRead(old, 'after', 'before')]).toEqual(['', '0.90 ohm']);
  });
});

test.each([
  [[{ value: 0.41, ol: false, red_probe: 'ground' as const }], 'diode mode 0.41 V (1 board)'],
  [
    [0.44, 0.4, 0.42].map((value) => ({ value, ol: false, red_probe: 'ground' as const })),
    'diode mode 0.42 V (3 boards, 0.40 V to 0.44 V)',
  ],
  [
    [0.4, 0.4].map((value) => ({ value, ol: false, red_probe: 'point' as const })),
    'diode mode 0.40 V, red on the point (2 boards)',
  ],
  [[{ value: null, ol: true, red_probe: 'ground' as const }], 'diode mode open (1 board)'],
])('what good boards read: %j', (kept, says) => expect(sayGood('diode', kept)).toBe(says));
