import { libraryCaseOf as known, typedCase } from '../testing/cases.ts';
import { Library } from './known.ts';
import { comparedCase, nearCases } from './near.ts';

const low = 'battery 4V limit 2A: 0 | prompt 0.1 0.18 hold';
const high = 'battery 4V limit 2A: 0 | prompt 0.1 0.9 hold';

const { value, shapes } = typedCase('phone', [low]);

describe('a library', () => {
  const cases = [
    known('near', low, { element: 'second coil' }),
    known('far', high, { circuit: 'display', closedAt: 200 }),
    known('cleared', low, { grade: 'cleared', weight: 0.5, circuit: 'pmic' }),
    known('another', low, { model: 'another', circuit: 'radio' }),
  ];
  const library = new Library(cases);
  const says = library.ask(value, shapes, { without: '', before: null });
  test('remembers the cases that show the same in the same setup, each by what it teaches', () => {
    expect([...(says.memory?.counts.keys() ?? [])].sort()).toEqual(['another', 'cleared', 'near']);
    expect(says.memory?.counts.get('cleared')?.count).toBeCloseTo((says.memory?.counts.get('near')?.count ?? 0) / 2, 9);
    expect(says.memory?.reason).toMatchObject({ id: 'past-cases', values: { cases: 3, ofModel: 2 } });
  });
  test('a case is no case before itself, and what was confirmed later says nothing earlier', () => {
    const earlier = library.ask(value, shapes, { without: 'near', before: 150 });
    expect(earlier.alike.map((a) => a.one.id)).not.toContain('near');
    expect(earlier.alike.map((a) => a.one.id)).not.toContain('far');
    expect([...(earlier.memory?.counts.keys() ?? [])]).not.toContain('near');
    expect(earlier.memory?.ofModel).toBeCloseTo((says.memory?.ofModel ?? 0) / 3, 9);
  });
  test('a library without cases changes nothing', () => {
    const empty = new Library([]).ask(value, shapes, { without: '', before: null });
    expect(empty).toEqual({ alike: [], memory: null });
  });
  test('the nearest cases in words: what is alike, what is not', () => {
    const near = nearCases(says.alike, [
      { id: 'near', p: 0.4 },
      { id: 'far', p: 0.01 },
    ]);
    expect(near[0]).toMatchObject({ id: 'near', p: 0.4, isOtherModel: false, element: 'second coil' });
    expect(near[0].alike.join()).toContain('the typical draw (0.72 W)');
    expect(near[0].differs).toEqual([]);
    const far = near.find((n) => n.id === 'far');
    expect(far?.differs.join()).toMatch(/draw: .*W here, .*W there/);
    expect(near.find((n) => n.id === 'another')?.isOtherModel).toBe(true);
  });
  test('runs that cannot be held against each other are alike in nothing', () => {
    expect(comparedCase([])).toEqual({ alike: [], differs: [] });
  });
});
