import { deviceClasses } from '../catalogue/index.ts';
import { historyOf } from '../diagnosis/index.ts';
import { figuresOf } from '../prediction/index.ts';
import { deadUnits, everyScene } from '../testing/scenes.ts';
import { caseOf } from '../testing/cases.ts';
import { feeds } from '../catalogue/index.ts';
import {
  faultStates,
  isLeftOut,
  likelihoodsOf,
  observationKinds,
  overPlaces,
  patternTable,
  type History,
} from './index.ts';
import { sayLeftOut, sayReason, type Reason } from '../reasons/index.ts';

const histories = everyScene().map((scene): [string, History] => [
  scene.name,
  historyOf(scene.value, scene.shapes).history,
]);

/** Greatest distance from 1 of the sums over the outcomes, over every state and hypothesis. */
function maxOff(tables: Record<string, readonly (readonly number[])[]>): number {
  const words = Object.values(tables);
  return Math.max(
    ...words[0].map((row, s) =>
      Math.max(...row.map((_, h) => Math.abs(words.reduce((sum, t) => sum + t[s][h], 0) - 1))),
    ),
  );
}

test('kinds are registered once', () => {
  expect(new Set(observationKinds.map((k) => k.id)).size).toBe(observationKinds.length);
});

describe.each(histories)('%s', (_, history) => {
  test('every question that can be asked has outcomes that sum to one for every hypothesis and state', () => {
    const open = observationKinds.flatMap((kind) => kind.candidates(history));
    expect(open.length).toBeGreaterThan(5);
    for (const { question } of open) {
      const [first] = Object.values(question.outcomes);
      expect(first).toHaveLength(history.space.hypotheses.length);
      const tables = likelihoodsOf(question, history.over);
      expect(tables[Object.keys(tables)[0]]).toHaveLength(faultStates.length);
      expect(maxOff(tables)).toBeLessThan(1e-9);
      const words = Object.keys(question.outcomes);
      for (const holds of ['always', 'while-same'] as const) {
        const expecting = likelihoodsOf(
          { ...question, shown: [{ words: [words[0]], certainty: 0.8, holds }] },
          history.over,
        );
        expect(maxOff(expecting)).toBeLessThan(1e-9);
      }
    }
  });

  test('everything that was entered is an outcome of its question, or says why it does not count', () => {
    for (const entry of observationKinds.flatMap((kind) => kind.entries(history))) {
      if (isLeftOut(entry)) {
        expect(sayLeftOut(entry)).toMatch(/^.+: .{10}/);
        continue;
      }
      expect(sayReason(entry.reason)).not.toMatch(/undefined|NaN|null|^$/);
      // Data and nothing else: what is stored reads the same when it is read again.
      expect(sayReason(JSON.parse(JSON.stringify(entry.reason)) as Reason)).toBe(sayReason(entry.reason));
      if (entry.answer) expect(Object.keys(entry.answer.question.outcomes)).toContain(entry.answer.word);
      else
        for (const table of entry.likelihood ?? [])
          expect(overPlaces([table], new Map(), history.assemblies, history.over)).toHaveLength(
            faultStates.length * (history.assemblies.things.length + 1),
          );
    }
  });
});

test('no two questions of one case share a key unless they ask the same', () => {
  const { value, shapes } = deadUnits[2];
  const { history } = historyOf(value, shapes);
  const keys = new Map<string, string[]>();
  for (const c of observationKinds.flatMap((kind) => kind.candidates(history)))
    keys.set(c.question.key, [...(keys.get(c.question.key) ?? []), Object.keys(c.question.outcomes).join()]);
  for (const asked of keys.values()) expect(new Set(asked).size).toBe(1);
});

test('what a circuit shows in a run sums to one over the patterns, in every setup', () => {
  for (const deviceClass of deviceClasses)
    for (const feed of feeds)
      for (const asks of ['start', 'rest', 'voltage'] as const)
        for (const phase of [null, 'before', 'after', 'feed'] as const) {
          const { family } = figuresOf(caseOf(deviceClass).device);
          const rows = Object.values(patternTable({ feed, deviceClass, family, phase, asks }));
          rows[0].forEach((_, c) => {
            expect(rows.every((row) => row[c] >= 0 && row[c] <= 1)).toBe(true);
            expect(rows.reduce((sum, row) => sum + row[c], 0)).toBeCloseTo(1, 9);
          });
        }
});
