import { checkTypes, isCheck } from '../case/index.ts';
import { patternNames } from '../shape/index.ts';
import { typedCase } from '../testing/cases.ts';
import table from './data/shown.json';
import { assess, type Assessment } from './index.ts';
import { givenShown } from './shown.ts';

const dead = 'battery 3.9V limit 3A: 0 | prompt';
const check = (id: string, outcome: string) => ({ id, outcome, note: '' });

function asked(line: string, checks: ReturnType<typeof check>[] = [], setup = {}): Assessment {
  const { value, shapes } = typedCase('phone', [line], { checks });
  for (const run of value.runs) Object.assign(run.setup, setup);
  return assess(value, shapes);
}
/** Greatest movement of any circuit. */
const moved = (a: Assessment, b: Assessment): number =>
  Math.max(...b.circuits.map((c) => Math.abs(c.p - (a.circuits.find((x) => x.id === c.id)?.p ?? 0))));

describe('what the runs have shown already', () => {
  test('the table speaks of patterns, checks and outcomes that there are', () => {
    for (const [pattern, row] of Object.entries(table.byPattern)) {
      expect(Object.keys(patternNames)).toContain(pattern);
      for (const [id, [outcome, certainty]] of Object.entries(row)) {
        expect(isCheck(id) && checkTypes[id].outcomes).toContain(outcome);
        expect(certainty).toBeGreaterThan(0);
        expect(certainty).toBeLessThan(1);
      }
    }
  });
  test('a dark screen after no draw at all tells nothing, and looking at it is not what comes first', () => {
    const before = asked(dead);
    expect(moved(before, asked(dead, [check('screen', 'dark')]))).toBeLessThan(0.02);
    expect(before.next[0].check).not.toBe('screen');
    expect(before.next[0].check).not.toBe('press-response');
  });
  test('what contradicts the run still counts', () => {
    const before = asked(dead);
    const after = asked(dead, [check('screen', 'image')]);
    expect(moved(before, after)).toBeGreaterThan(0.05);
  });
  test('a run of half a board says nothing of the whole', () => {
    const half = { assembly: 'half', half: 'upper' };
    const before = asked(dead, [], half);
    expect(moved(before, asked(dead, [check('screen', 'dark')], half))).toBeGreaterThan(
      moved(asked(dead), asked(dead, [check('screen', 'dark')])),
    );
  });
  test('outcomes stay a distribution for every hypothesis', () => {
    const given = givenShown({ dark: [0.2, 0.9], image: [0.8, 0.1] }, { outcome: 'dark', certainty: 0.9 });
    expect((given?.dark[0] ?? 0) + (given?.image[0] ?? 0)).toBeCloseTo(1, 12);
    expect(given?.dark[0]).toBeCloseTo(0.92, 12);
    expect(givenShown(null, { outcome: 'dark', certainty: 0.9 })).toBeNull();
    expect(givenShown({ on: [1] }, { outcome: 'dark', certainty: 0.9 })).toEqual({ on: [1] });
  });
});
