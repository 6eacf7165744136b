import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import { bareCase, emptyIntake } from '../case/index.ts';
import { priorOf } from './priors.ts';
import vocabulary from './vocabulary.json';
import { circuitOfPart, circuitsNamed, remarksOf } from './vocabulary.ts';

const said = (complaint: string, notes = '', ticked = {}) =>
  remarksOf({ complaint, intake: { ...emptyIntake, notes, ...ticked } });
const ids = (complaint: string): string[] => said(complaint).map((r) => r.id);

describe('places in words', () => {
  test.each([
    ['at one core power stage', ['core.supply']],
    ['one inductor of the power-management chip', ['pmic']],
    ['small parts of the enable chain', ['seq.power-good']],
    ['one capacitor next to the clock crystal', ['rail.always-on']],
    ['green around the battery connector', ['battery.pack']],
    ['between the fuse and the charger chip', ['input.protection', 'charge.charger']],
    ['the processor, near its edge', ['core.soc']],
    ['in two places', []],
    ['', []],
  ])('%s', (note, circuits) => expect(circuitsNamed(note).sort()).toEqual([...circuits].sort()));

  test.each([
    ['companion chip beside the processor', 'core.chipset'],
    ['one corner of the processor', 'core.soc'],
    ['processor line at coil 2', 'core.supply'],
    ['coils of phases 1 and 2', 'core.supply'],
    ['main 12 V line', 'rail.main'],
    ['main', 'rail.main'],
    ['input fuse, end to end', 'input.protection'],
    ['always-on 3.3 V at its converter', 'rail.always-on'],
    ['stick board', 'periph.board'],
    // What stands beside a part, what several circuits have, and what two circuits are named for.
    ['speck beside the processor', null],
    ['amplifier under the long shield', null],
    ['joints of the power socket', 'input.port'],
    ['pin 1 of the unnamed chip', null],
    ['fuse and charger chip', null],
    ['main board', null],
    ['', null],
  ])('a part called %j is of %s', (part, circuit) => expect(circuitOfPart(part)).toBe(circuit));

  test('a longer phrase covers the shorter one that it holds', () => {
    expect(circuitsNamed('memory card')).toEqual(['core.storage']);
    expect(circuitsNamed('memory')).toEqual(['core.memory']);
  });
  test('what is denied is missing', () =>
    expect(circuitsNamed('not the charger, the fuse')).toEqual(['input.protection']));
  test('every circuit that sits at a place has words of its own', () => {
    for (const [circuit, phrases] of Object.entries(vocabulary.places)) {
      expect(circuitIds).toContain(circuit);
      for (const phrase of phrases)
        if (!phrase.endsWith('*'))
          expect([phrase, circuitsNamed(phrase)]).toEqual([phrase, expect.arrayContaining([circuit])]);
    }
  });
});

describe('words of the customer', () => {
  test.each([
    ['died while an update was installing', 'update'],
    ['slow for weeks, now dead', 'slow'],
    ['got very hot, then went black', 'heat'],
    ['on and off when the case is squeezed', 'moved'],
    ['charges only when the plug is held at an angle', 'plug-moves'],
    ['right side dead', 'one-side'],
    ['dead after a thunderstorm', 'bad-charger'],
    ['lay in a drawer for two years', 'stored'],
    ['check before sale', 'check'],
    ['sound but no picture', 'sounds'],
  ])('%s', (complaint, id) => expect(ids(complaint)).toContain(id));

  test.each(['dead', 'does not turn on', 'no reaction to the button', 'went black while in use', ''])(
    'nothing telling in "%s"',
    (complaint) => expect(ids(complaint)).toEqual([]),
  );
  test('a denial says nothing', () => expect(ids('not hot, no update')).toEqual([]));
  test('slow charging is no slow device', () => expect(ids('charges slower for weeks')).not.toContain('slow'));
  test('what was ticked is not counted again', () => {
    expect(said('dead after a spill').map((r) => r.id)).toContain('liquid');
    expect(said('dead after a spill', '', { liquid: true }).map((r) => r.id)).not.toContain('liquid');
  });
  test('notes of the shop are no evidence', () => {
    expect(said('stuck at an update')).toHaveLength(1);
    expect(said('', 'stuck at an update, used hot air')).toEqual([]);
  });
  test('it is a reason of its own, and moves what it speaks of', () => {
    const value = { ...bareCase({ class: 'phone' }, [], 't'), complaint: 'stuck since an update' };
    const { reasons } = priorOf(value);
    const reason = reasons.find((r) => r.source === 'remark');
    expect(reason?.reason).toEqual({ id: 'remark', values: { remark: 'update' } });
    expect(reason?.logs[circuitIds.indexOf('firmware')]).toBeGreaterThan(1);
  });
  test('what somebody took back does not count, and nothing is read beside what somebody let stand', () => {
    const value = { ...bareCase({ class: 'phone' }, [], 't'), complaint: 'fell, then stuck at an update' };
    const of = (heard?: string[]): string[] =>
      remarksOf({ ...value, intake: { ...emptyIntake, heard } }).map((r) => r.id);
    expect(of().sort()).toEqual(['fall', 'update']);
    expect(of(['fall'])).toEqual(['fall']);
    expect(of([])).toEqual([]);
    expect(of(['no such remark'])).toEqual([]);
  });
  test('any text is read without harm, in any case of letters', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 400 }), (text) => {
        const upper = text.toUpperCase();
        for (const { factors } of said(text)) for (const f of Object.values(factors)) expect(f).toBeGreaterThan(0);
        return (
          circuitsNamed(text).length <= circuitIds.length &&
          (text.toLowerCase() !== upper.toLowerCase() || said(upper).length === said(text).length)
        );
      }),
    );
  });
  test('factors name circuits that there are', () => {
    for (const rule of vocabulary.remarks)
      for (const circuit of Object.keys(rule.factors)) expect(circuitIds).toContain(circuit);
  });
});
