import { libraryCaseOf as known, typedCase } from '../testing/cases.ts';
import { alikeCases, likenessOf } from './alike.ts';
import { CaseShelf } from './shelf.ts';
import { modelKey, type LibraryCase } from './signature.ts';
import settings from './settings.json';

const lines = {
  low: 'battery 4V limit 2A: 0 | prompt 0.1 0.18 hold',
  high: 'battery 4V limit 2A: 0 | prompt 0.1 0.9 hold',
};

const { value, shapes } = typedCase('phone', [lines.low]);
const alike = (cases: LibraryCase[], without = '') =>
  alikeCases(new CaseShelf(cases), value, shapes, { without, before: null });

describe('confirmed cases beside the case in hand', () => {
  test('typed runs find each other, the nearest first', () => {
    const found = alike([known('far', lines.high), known('near', lines.low)]);
    expect(found.map((a) => a.one.id)).toEqual(['near', 'far']);
    expect(found[0].squared).toBeLessThan(found[1].squared ?? 0);
    expect(found[0].pairs).toHaveLength(1);
  });
  test('all of the model count in full, others of the class less, other classes not at all', () => {
    const found = alike([
      known('other class', lines.low, { deviceClass: 'laptop', model: 'another' }),
      known('other model', lines.low, { model: 'another' }),
      known('own', lines.high),
    ]);
    expect(found.map((a) => [a.one.id, a.weight])).toEqual([
      ['own', 1],
      ['other model', settings.otherModelWeight],
    ]);
  });
  test('the case itself never counts, nor one that teaches nothing', () => {
    expect(alike([known('self', lines.low), known('idle', lines.low, { weight: 0 })], 'self')).toEqual([]);
  });
  test('a case that nothing of can be held against this one is kept, and says so', () => {
    const [one] = alike([known('on its port', 'usb-c port 1: 5V 0.07 hold')]);
    expect(one.squared).toBeNull();
  });
  test('a run after a change is not looked at', () => {
    const changed = { ...value, runs: value.runs.map((r) => ({ ...r, after: 'a1' })) };
    const [one] = alikeCases(new CaseShelf([known('near', lines.low)]), changed, shapes, { without: '', before: null });
    expect(one.squared).toBeNull();
  });
  test('likeness falls with distance and never to nothing', () => {
    const list = [0, 1, 10, 100, 1000].map(likenessOf);
    expect(list[0]).toBe(1);
    list.slice(1).forEach((x, k) => expect(x).toBeLessThan(list[k]));
    expect(list.at(-1)).toBeGreaterThan(0);
  });
  test('a model is the same however it is written', () => {
    expect(modelKey('  Test   Unit ')).toBe(modelKey('test unit'));
  });
});
