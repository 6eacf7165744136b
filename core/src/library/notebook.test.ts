import fc from 'fast-check';
import { circuitNames } from '../catalogue/index.ts';
import { closestLines, notebookLines, phaseSaid, searchNotebook, type NotebookEntry } from './notebook.ts';

const entry = (over: Partial<NotebookEntry> = {}): NotebookEntry => ({
  model: 'Moorcall',
  deviceClass: 'phone',
  feed: 'battery',
  volts: 4,
  amps: 0.18,
  phase: 'after',
  setup: '',
  circuit: 'seq.power-good',
  element: '',
  hits: 1,
  of: 1,
  at: new Date('2026-03-01'),
  who: 'bench',
  source: { kind: 'job', id: 1 },
  origin: null,
  ...over,
});
const name = (c: NotebookEntry['circuit']): string => circuitNames[c];
const find = (lines: ReturnType<typeof notebookLines>, over = {}) =>
  searchNotebook(lines, { amps: null, volts: null, text: '', ...over }, name);

describe('notebook', () => {
  test('worked example: one level, four of five the same', () => {
    const lines = notebookLines([
      ...[0.17, 0.18, 0.185, 0.19].map((amps, id) => entry({ amps, source: { kind: 'job', id } })),
      entry({ amps: 0.175, circuit: 'pmic', at: new Date('2026-05-01'), who: 'evening bench' }),
    ]);
    expect(lines).toHaveLength(1);
    expect(lines[0]).toMatchObject({ minA: 0.17, maxA: 0.19, of: 5, who: ['bench', 'evening bench'] });
    expect(lines[0].causes).toEqual([
      { circuit: 'seq.power-good', elements: [], hits: 4 },
      { circuit: 'pmic', elements: [], hits: 1 },
    ]);
    expect(lines[0].last).toEqual(new Date('2026-05-01'));
  });
  test('a typed line counts as often as it says', () => {
    const [line] = notebookLines([entry({ hits: 4, of: 5, source: { kind: 'note', id: 1 } }), entry()]);
    expect([line.causes[0].hits, line.of]).toEqual([5, 6]);
  });
  test('what stood before the press answers nothing that followed it; a line that says neither answers both', () => {
    const lines = notebookLines([
      entry({ phase: 'before', setup: 'before power-on' }),
      entry(),
      entry({ phase: null, setup: 'two rails missing' }),
      entry({ feed: 'usb-c' }),
    ]);
    const found = (over: object) => find(lines, { amps: 0.18, ...over }).map((l) => [l.feed, l.phase]);
    expect(found({ phase: 'after', feed: 'battery' })).toEqual([
      ['battery', 'after'],
      ['battery', null],
    ]);
    expect(found({ phase: 'before' })).toContainEqual(['battery', 'before']);
    expect(found({ phase: 'before' })).not.toContainEqual(['battery', 'after']);
  });
  test.each([
    ['before the press', 'before'],
    ['battery in, before power-on', 'before'],
    ['2 s after the button was pressed', 'after'],
    ['before cleaning', null],
    ['', null],
  ])('the setup %j says its phase: %s', (setup, phase) => {
    expect(phaseSaid(setup)).toBe(phase);
  });
  test('another level, feed, voltage or model is another line', () => {
    const lines = notebookLines([
      entry(),
      entry({ amps: 0.6 }),
      entry({ feed: 'usb-c' }),
      entry({ volts: 20 }),
      entry({ model: 'Pennywren' }),
      entry({ model: ' moorcall ' }),
    ]);
    expect(lines).toHaveLength(5);
  });
  test('a model of which no line is at the level shows its lines, the closest first', () => {
    const lines = notebookLines([
      entry({ amps: 0.6 }),
      entry({ amps: 0.05 }),
      entry({ amps: 0.6, model: 'Pennywren' }),
    ]);
    const query = { amps: 0.19, volts: null, text: 'moorcall' };
    expect(searchNotebook(lines, query, name)).toEqual([]);
    expect(closestLines(lines, query, name).map((l) => [l.model.trim().toLowerCase(), l.minA])).toEqual([
      ['moorcall', 0.6],
      ['moorcall', 0.05],
    ]);
    expect(closestLines(lines, { ...query, text: '' }, name)).toEqual([]);
  });
  test('is searched by a number, the nearest first, with room for a digit', () => {
    const lines = notebookLines([
      entry({ amps: 0.18 }),
      entry({ amps: 0.24, circuit: 'display' }),
      entry({ amps: 1.5 }),
    ]);
    expect(find(lines, { amps: 0.19 }).map((l) => l.minA)).toEqual([0.18]);
    expect(find(lines, { amps: 0.21 }).map((l) => l.minA)).toEqual([0.24, 0.18]);
    expect(find(lines, { amps: 0.19, volts: 20 })).toEqual([]);
  });
  test('and by words of the model, the circuit, the part', () => {
    const lines = notebookLines([entry({ element: 'second coil' }), entry({ model: 'Pennywren', circuit: 'display' })]);
    expect(find(lines, { text: 'penny disp' })).toHaveLength(1);
    expect(find(lines, { text: 'coil' })[0].model).toBe('Moorcall');
    expect(find(lines, { text: 'phone' })).toHaveLength(2);
    expect(find(lines, { text: 'laptop' })).toEqual([]);
    expect(find(lines, { text: 'nothing like it' })).toEqual([]);
  });
  test('loses no entry, and every reading is found by its own number', () => {
    const any = fc.record({
      amps: fc.double({ min: 0, max: 5, noNaN: true }),
      volts: fc.option(fc.double({ min: 3, max: 20, noNaN: true })),
      model: fc.constantFrom('a', 'b'),
      circuit: fc.constantFrom('pmic' as const, 'display' as const),
    });
    fc.assert(
      fc.property(fc.array(any, { maxLength: 25 }), (list) => {
        const entries = list.map((over) => entry(over));
        const lines = notebookLines(entries);
        expect(lines.flatMap((l) => l.entries)).toHaveLength(entries.length);
        for (const e of entries) expect(find(lines, { amps: e.amps }).some((l) => l.entries.includes(e))).toBe(true);
      }),
    );
  });
});
