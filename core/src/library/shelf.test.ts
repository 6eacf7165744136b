import fc from 'fast-check';
import { circuitIds, deviceClasses, outcomeGrades } from '../catalogue/index.ts';
import { libraryCaseOf } from '../testing/cases.ts';
import { CaseShelf } from './shelf.ts';
import { modelKey, type LibraryCase } from './signature.ts';

const [low] = libraryCaseOf('x', 'battery 4V limit 2A: 0 | prompt 0.1 0.18 hold').signatures;
const [high] = libraryCaseOf('x', 'usb-c port 1: 5V 0.07 hold').signatures;

const confirmed: fc.Arbitrary<LibraryCase> = fc.record({
  id: fc.integer({ min: 1, max: 20 }).map((k) => `job ${k}`),
  origin: fc.constantFrom(null, 'Harbour branch', ''),
  model: fc.constantFrom('Tallgate Moorcall 2', ' tallgate  moorcall 2', 'another', ''),
  deviceClass: fc.constantFrom(...deviceClasses),
  circuit: fc.constantFrom(...circuitIds),
  element: fc.constantFrom('', 'second coil'),
  part: fc.constant(''),
  cure: fc.constantFrom('', 'replace coil'),
  grade: fc.constantFrom(...outcomeGrades),
  weight: fc.constantFrom(0, 0.5, 1),
  closedAt: fc.integer({ min: 0, max: 1000 }),
  says: fc.constant('a case'),
  signatures: fc.array(fc.constantFrom(low, { ...low, run: 'r2', setup: { ...low.setup, port: 2 } }, high), {
    maxLength: 3,
  }),
});
const step = fc.oneof(
  { weight: 4, arbitrary: confirmed.map((put) => ({ put, forget: null })) },
  { weight: 1, arbitrary: fc.integer({ min: 1, max: 20 }).map((k) => ({ put: null, forget: `job ${k}` })) },
);

/** A shelf after some steps, and the same in a plain map. */
function after(steps: readonly { put: LibraryCase | null; forget: string | null }[]) {
  const [shelf, plain] = [new CaseShelf(), new Map<string, LibraryCase>()];
  for (const { put, forget } of steps) {
    if (put) {
      shelf.put(put);
      plain.delete(put.id);
      plain.set(put.id, put);
    } else if (forget) {
      shelf.forget(forget);
      plain.delete(forget);
    }
  }
  return { shelf, plain };
}

describe('a shelf of confirmed cases', () => {
  test('gives every case back as it was put in, whatever was taken out and replaced before', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), (steps) => {
        const { shelf, plain } = after(steps);
        expect(shelf.size).toBe(plain.size);
        expect(shelf.runs).toBe([...plain.values()].reduce((sum, one) => sum + one.signatures.length, 0));
        expect([...shelf]).toEqual([...plain.values()]);
      }),
    );
  });
  test('finds the last of a model, and those that are near, as one does by looking at every one', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 60 }), fc.integer({ min: 1, max: 1000 }), (steps, before) => {
        const { shelf, plain } = after(steps);
        const counts = (one: LibraryCase) => one.weight > 0 && one.closedAt < before && one.id !== 'job 3';
        const key = modelKey('Tallgate Moorcall 2');
        const filter = { without: 'job 3', before };
        const own = [...plain.values()].filter((one) => counts(one) && modelKey(one.model) === key);
        const found = shelf.ofModel(key, 5, filter);
        expect(found.map((one) => one.closedAt)).toEqual(
          own
            .map((one) => one.closedAt)
            .sort((a, b) => a - b)
            .slice(-5),
        );
        const near = shelf
          .near(low, 100, { ...filter, deviceClass: 'phone', notModel: key })
          .map((at) => shelf.caseAt(at));
        const expected = [...plain.values()].flatMap((one) =>
          counts(one) && one.deviceClass === 'phone' && modelKey(one.model) !== key
            ? one.signatures.flatMap((s) => (s.setup.feed === 'battery' ? [one.id] : []))
            : [],
        );
        expect(near.map((one) => one.id).sort()).toEqual(expected.sort());
      }),
    );
  });
  test('takes under 600 bytes a case with a run, beside its words', () => {
    const shelf = new CaseShelf();
    const one = libraryCaseOf('x', 'battery 4V limit 2A: 0 | prompt 0.1 0.18 hold');
    for (let k = 0; k < 20_000; k++) shelf.put({ ...one, id: `job ${k}`, says: `job ${k}` });
    expect(shelf.bytes / shelf.size).toBeLessThan(600);
  });
});
