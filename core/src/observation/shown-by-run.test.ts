import { type Check } from '../case/index.ts';
import { checkOf, typedCase } from '../testing/cases.ts';
import { assess, type Assessment } from '../diagnosis/index.ts';

const dead = 'battery 3.9V limit 3A: 0 | prompt';

function asked(line: string, checks: Check[] = [], setup = {}): Assessment {
  const { value, shapes } = typedCase('phone', [line], { checks });
  for (const run of value.runs) Object.assign(run.setup, setup);
  return assess(value, shapes);
}
/** Greatest movement of any circuit. */
const moved = (a: Assessment, b: Assessment): number =>
  Math.max(...b.circuits.map((c) => Math.abs(c.p - (a.circuits.find((x) => x.id === c.id)?.p ?? 0))));

describe('what the runs have shown already', () => {
  test('a dark screen after no draw at all tells nothing, and looking at it is not what comes first', () => {
    const before = asked(dead);
    expect(moved(before, asked(dead, [checkOf('screen', 'dark')]))).toBeLessThan(0.02);
    expect(before.next[0].check).not.toBe('screen');
    expect(before.next[0].check).not.toBe('press-response');
  });
  test('what contradicts the run still counts', () => {
    const before = asked(dead);
    const after = asked(dead, [checkOf('screen', 'image')]);
    expect(moved(before, after)).toBeGreaterThan(0.05);
  });
  test('a run of half a board says nothing of the whole', () => {
    const half = { assembly: 'half', half: 'upper' };
    const before = asked(dead, [], half);
    expect(moved(before, asked(dead, [checkOf('screen', 'dark')], half))).toBeGreaterThan(
      moved(asked(dead), asked(dead, [checkOf('screen', 'dark')])),
    );
  });
});
