import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import type { Action, Case, Check, Injection, Reading } from '../case/index.ts';
import { actionOf, checkOf, injectionOf, readingOf } from '../testing/cases.ts';
import { deadUnits } from '../testing/scenes.ts';
import { assess, believe, byCircuit } from './index.ts';
import { sayLeftOut } from '../reasons/index.ts';

/** What people at a bench enter before anybody knows which net a place is on. */
const places = ['speck by the plug', 'third coil from the left', 'the warm chip', 'part C', 'fuse at the edge'];
const where = fc.constantFrom(...places);

const ground: fc.Arbitrary<Reading> = fc
  .record({
    where,
    measured: fc.constantFrom<Partial<Reading> & Pick<Reading, 'mode' | 'value'>>(
      { mode: 'resistance', value: 0.3 },
      { mode: 'resistance', value: 14 },
      { mode: 'resistance', value: 4700 },
      { mode: 'resistance', value: null, ol: true },
      { mode: 'resistance', value: null, says: 'beep' },
      { mode: 'resistance', value: null, says: 'no-beep' },
      { mode: 'resistance', value: 1000, bound: 'above' },
      { mode: 'diode', value: 0 },
      { mode: 'diode', value: 0.41 },
      { mode: 'diode', value: null, ol: true },
      { mode: 'voltage', value: 0, prompted: true, powered: true },
      { mode: 'voltage', value: 3.3, prompted: true, powered: true },
    ),
  })
  .map(({ where: at, measured }) => readingOf({ ...measured, where: at, circuit: null }));
const fed: fc.Arbitrary<Injection> = fc
  .record({ rail: where, hot: fc.constantFrom('the warm chip', null), amps: fc.constantFrom(0.02, 1.3, 2.5) })
  .map(({ rail, hot, amps }) => injectionOf(rail, 1, { amps, heat: hot ? 'one-spot' : 'none', hot }));
const looked: fc.Arbitrary<Check> = fc
  .record({ at: where, outcome: fc.constantFrom('residue', 'burnt', 'cracked', 'clean') })
  .map(({ at, outcome }) => checkOf('visual', outcome, { where: at }));
const changed: fc.Arbitrary<Action> = fc
  .record({ target: where, kind: fc.constantFrom<Action['kind']>('remove', 'clean', 'replace', 'reflow') })
  .map(({ target, kind }) => actionOf('a1', kind, { target, runBefore: 'r1' }));

const entered = fc.record({
  scene: fc.constantFrom(...deadUnits.slice(0, 5)),
  readings: fc.array(ground, { maxLength: 3 }),
  injections: fc.array(fed, { maxLength: 1 }),
  checks: fc.array(looked, { maxLength: 2 }),
  actions: fc.array(changed, { maxLength: 1 }),
  isAfter: fc.boolean(),
});
type Entered = typeof entered extends fc.Arbitrary<infer T> ? T : never;

function caseFrom({ scene, readings, injections, checks, actions, isAfter }: Entered): Case {
  const after = isAfter && actions.length > 0 ? 'a1' : null;
  return { ...scene.value, readings: readings.map((r) => ({ ...r, after })), injections, checks, actions };
}

describe('a repair in which no circuit was named', () => {
  test('every entry has weight, or a reason that is not that its circuit is unknown', () => {
    fc.assert(
      fc.property(entered, (given) => {
        const value = caseFrom(given);
        const { weighed, leftOut } = believe(value, given.scene.shapes);
        for (const left of leftOut) expect(sayLeftOut(left)).not.toMatch(/circuit|are not known/);
        const sources = new Set([...weighed.map((w) => w.source), ...leftOut.map((l) => l.source)]);
        value.readings.forEach((_, k) => expect(sources).toContain(`reading:${k}`));
        value.checks.forEach((_, k) => expect(sources).toContain(`check:${k}`));
        const range = (xs: readonly number[]): number => Math.max(...xs) - Math.min(...xs);
        for (const w of weighed)
          if (w.kind === 'reading') expect([w.reason, range(w.increments) > 1e-3]).toEqual([w.reason, true]);
      }),
      { numRuns: 60 },
    );
  });

  test.each([
    ['a short', readingOf({ mode: 'resistance', value: 1.2, where: 'a capacitor nobody can name' })],
    ['diode 0', readingOf({ mode: 'diode', value: 0, where: 'a hot part' })],
    ['a beep', readingOf({ mode: 'resistance', value: null, says: 'beep', where: 'a part' })],
  ])('%s at a place without a name moves the suspects', (_, reading) => {
    for (const { value, shapes } of deadUnits) {
      const [before, after] = [believe(value, shapes), believe({ ...value, readings: [reading] }, shapes)];
      const moved = byCircuit(before).map((p, k) => Math.abs(p - byCircuit(after)[k]));
      expect(Math.max(...moved)).toBeGreaterThan(0.01);
    }
  });

  test('the plan is never empty, and proposes nothing that has just been answered or is off the board', () => {
    fc.assert(
      fc.property(entered, (given) => {
        const value = caseFrom(given);
        const { next } = assess(value, given.scene.shapes);
        expect(next.length).toBeGreaterThan(0);
        const now = value.actions.at(-1)?.id ?? null;
        for (const test of next) {
          const isAnswered = value.readings.some(
            (r) => test.kind === 'reading' && r.after === now && r.where === test.where && r.mode === test.mode,
          );
          expect([test.name, isAnswered]).toEqual([test.name, false]);
          const off = value.actions.find((a) => a.kind === 'remove')?.target;
          expect([test.name, off !== undefined && test.action?.kind === 'remove' && test.where === off]).toEqual([
            test.name,
            false,
          ]);
        }
      }),
      { numRuns: 40 },
    );
  });

  test('when a place is named does not matter, nor by which entry', () => {
    fc.assert(
      fc.property(entered, where, fc.constantFrom(...circuitIds.slice(0, 8)), (given, place, circuit) => {
        fc.pre(circuit !== 'none' && circuit !== 'unmodelled');
        const value = caseFrom(given);
        const at = <T extends { where: string; circuit: unknown }>(list: T[]): T[] =>
          list.map((x) => (x.where === place ? { ...x, circuit } : x));
        const atOnce: Case = {
          ...value,
          readings: at(value.readings),
          checks: at(value.checks),
          injections: value.injections.map((i) => ({
            ...i,
            circuit: i.rail === place ? circuit : i.circuit,
            hotCircuit: i.hot === place ? circuit : i.hotCircuit,
          })),
          actions: value.actions.map((a) => (a.target === place ? { ...a, circuit } : a)),
        };
        const later: Case = { ...value, places: [{ where: place, circuit }] };
        expect(believe(later, given.scene.shapes).posterior).toEqual(believe(atOnce, given.scene.shapes).posterior);
      }),
      { numRuns: 40 },
    );
  });

  test('of a place named twice the later circuit holds', () => {
    const { value, shapes } = deadUnits[0];
    const readings = [readingOf({ mode: 'resistance', value: 0.3, where: 'part C' })];
    const named = (...circuits: ('rail.run' | 'rail.main')[]): Case => ({
      ...value,
      readings,
      places: circuits.map((circuit) => ({ where: 'part C', circuit })),
    });
    expect(believe(named('rail.main', 'rail.run'), shapes).posterior).toEqual(
      believe(named('rail.run'), shapes).posterior,
    );
  });

  test('a device that was never seen to work is not called working', () => {
    fc.assert(
      fc.property(entered, (given) => {
        expect(assess(caseFrom(given), given.scene.shapes, { plan: false }).state?.id).not.toMatch(/^works/);
      }),
      { numRuns: 60 },
    );
  });

  test('a place without a circuit is shown with what it most likely belongs to, until it is named', () => {
    const { value, shapes } = deadUnits[0];
    const readings = [readingOf({ mode: 'resistance', value: 0.3, where: 'third coil from the left' })];
    const [place] = assess({ ...value, readings }, shapes).unnamed ?? [];
    expect(place.where).toBe('third coil from the left');
    expect(place.guesses.length).toBeGreaterThan(0);
    expect(place.guesses.reduce((sum, g) => sum + g.p, 0)).toBeLessThanOrEqual(1 + 1e-9);
    place.guesses.slice(1).forEach((g, k) => expect(g.p).toBeLessThanOrEqual(place.guesses[k].p));
    const named = { ...value, readings, places: [{ where: place.where, circuit: 'rail.run' as const }] };
    expect(assess(named, shapes).unnamed).toEqual([]);
  });
});
