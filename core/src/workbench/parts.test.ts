import fc from 'fast-check';
import type { CircuitId } from '../catalogue/index.ts';
import { likelyParts, suffixMatch, toOrder, type PartKind, type SuspectedCircuit } from './parts.ts';

const part = (id: number, over: Partial<PartKind> = {}): PartKind => ({
  id,
  name: `part ${id}`,
  number: `N${id}`,
  suffix: 'A',
  fits: [],
  deviceClass: null,
  model: '',
  circuit: 'display',
  onHand: 2,
  reserved: 0,
  ordered: 0,
  minimum: 0,
  ...over,
});
const believed = new Map<CircuitId, SuspectedCircuit>([
  ['display', { p: 0.6 }],
  ['battery.pack', { p: 0.3 }],
]);
const device = { deviceClass: 'phone' as const, model: 'Moor 2' };

test('worked example: a circuit at 60 %, two parts of which one was taken twice before', () => {
  const found = likelyParts(
    believed,
    [part(1), part(2), part(3, { circuit: 'battery.pack', reserved: 2 })],
    [{ partId: 2, circuit: 'display', times: 2 }],
    device,
  );
  expect(found.map((l) => [l.partId, Number(l.p.toFixed(3)), l.free])).toEqual([
    [2, 0.45, 2],
    [3, 0.3, 0],
    [1, 0.15, 2],
  ]);
});

test.each([
  [
    1,
    [
      ['rail capacitor', 0.588],
      ['load switch', 0.294],
      ['rail converter', 0.098],
    ],
  ],
  [
    0,
    [
      ['rail converter', 0.784],
      ['load switch', 0.147],
      ['rail capacitor', 0.049],
    ],
  ],
])('worked example: a rail at 98 %%, shorted with %d: its capacitors, not its converter', (shorted, expected) => {
  const parts = ['rail converter', 'rail capacitor', 'load switch'].map((name, id) =>
    part(id, { name, circuit: 'rail.run' }),
  );
  const found = likelyParts(new Map([['rail.run', { p: 0.98, shorted }]]), parts, [], device);
  expect(found.map((l) => [parts[l.partId].name, Number(l.p.toFixed(3))])).toEqual(expected);
});

test('what is for another kind of device or another model is not proposed; what was taken for another circuit counts nothing', () => {
  const parts = [part(1, { deviceClass: 'laptop' }), part(2, { model: 'moor 2' }), part(3, { model: 'Fen 1' })];
  expect(
    likelyParts(believed, parts, [{ partId: 2, circuit: 'pmic', times: 50 }], device).map((l) => l.partId),
  ).toEqual([2]);
});

test('for any shelf: no more is needed of a circuit than it is likely', () => {
  fc.assert(
    fc.property(
      fc.array(
        fc.record({ circuit: fc.constantFrom<CircuitId>('display', 'battery.pack', 'pmic'), times: fc.nat(20) }),
        { maxLength: 9 },
      ),
      (list) => {
        const parts = list.map(({ circuit }, k) => part(k, { circuit }));
        const uses = list.map(({ circuit, times }, k) => ({ partId: k, circuit, times }));
        const found = likelyParts(believed, parts, uses, device);
        for (const [circuit, { p }] of believed)
          expect(found.filter((l) => l.circuit === circuit).reduce((sum, l) => sum + l.p, 0)).toBeLessThanOrEqual(
            p + 1e-9,
          );
      },
    ),
  );
});

test.each([
  ['A', 'same'],
  ['a ', 'same'],
  ['B', 'stands-in'],
  ['C', 'other'],
  ['', 'unknown'],
])('suffix %j against A, which stands in for B: %s', (wanted, match) => {
  expect(suffixMatch({ suffix: 'A', fits: ['B'] }, wanted)).toBe(match);
});

test('what must be ordered: the minimum and what is reserved, less what there is and what comes', () => {
  expect(toOrder({ onHand: 1, reserved: 2, ordered: 1, minimum: 2 })).toBe(2);
  expect(toOrder({ onHand: 9, reserved: 2, ordered: 0, minimum: 2 })).toBe(0);
});
