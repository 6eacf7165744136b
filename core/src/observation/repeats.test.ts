import fc from 'fast-check';
import { circuitIds } from '../catalogue/index.ts';
import { classHypotheses } from '../hypotheses/index.ts';
import { usualTrust, type Learned, type RepeatedCase } from './learned.ts';
import type { Question } from './question.ts';
import { Repeats } from './repeats.ts';
import settings from './learned.json';

const hypotheses = classHypotheses([]);
const n = hypotheses.length;
const index = (id: string): number => circuitIds.indexOf(id as (typeof circuitIds)[number]);
const history = {
  space: { hypotheses } as never,
  over: { prior: hypotheses.map(() => 1 / n), none: index('none'), unmodelled: index('unmodelled') },
};
const repeat = (over: Partial<RepeatedCase> = {}): RepeatedCase => ({
  id: 'c1',
  circuit: 'rail.run',
  element: '',
  weight: 1,
  likeness: 1,
  answers: {},
  says: 'case 1',
  ...over,
});
const learned = (repeats: RepeatedCase[], over: Partial<Learned> = {}): Learned => ({
  repeats,
  trust: usualTrust,
  ...over,
});
const flat = hypotheses.map(() => 0);
const over = (repeats: RepeatedCase[], usual = flat): Repeats => new Repeats(history, learned(repeats), usual);
const question = (key: string, yes: number[]): Question => ({
  key,
  outcomes: { yes, no: yes.map((p) => 1 - p) },
  repeats: 0,
});
const share = fc.double({ min: 0.02, max: 0.98, noNaN: true });
const anyQuestion = (key: string) => fc.array(share, { minLength: n, maxLength: n }).map((yes) => question(key, yes));
const anyRepeat = fc.record({
  circuit: fc.constantFrom(...circuitIds.filter((c) => c !== 'unmodelled')),
  weight: fc.double({ min: 0.1, max: 1, noNaN: true }),
  likeness: fc.double({ min: 0.001, max: 1, noNaN: true }),
  answers: fc.dictionary(fc.constantFrom('a', 'b'), fc.constantFrom('yes', 'no')),
});

describe('repeats of confirmed cases', () => {
  test('without cases nothing is added, whatever was seen', () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: -8, max: 3, noNaN: true }), { minLength: n, maxLength: n }), (usual) => {
        for (const x of over([], usual).increments()) expect(x).toBeCloseTo(0, 9);
      }),
    );
  });
  test('worked example: one case that is just like this one', () => {
    const added = over([repeat()]).increments();
    const { newCauses, anyRuns } = settings;
    const any = (anyRuns.worth * anyRuns.likeness + 1) / (anyRuns.worth + 1);
    expect(added[index('rail.run')]).toBeCloseTo(Math.log((newCauses + 1 / any) / (newCauses + 1)), 9);
    expect(added[index('display')]).toBeCloseTo(0, 9);
  });
  test('the nearer the case, the more its circuit gains; a weaker teacher gives less', () => {
    const gain = (r: Partial<RepeatedCase>): number =>
      over([repeat(r), repeat({ id: 'c2', circuit: 'display', likeness: 0.4 })]).increments()[index('rail.run')];
    expect(gain({ likeness: 0.9 })).toBeGreaterThan(gain({ likeness: 0.2 }));
    expect(gain({})).toBeGreaterThan(gain({ weight: 0.2 }));
  });
  test('what every confirmed case shows says nothing', () => {
    const same = circuitIds.map((circuit, k) => repeat({ id: `c${k}`, circuit, likeness: 0.3 }));
    const added = over(same).increments();
    added.forEach((x) => expect(Math.abs(x - added[0])).toBeLessThan(1e-9));
  });
  test('a case that cannot be held against this one adds nothing by itself', () => {
    over([repeat({ likeness: null })])
      .increments()
      .forEach((x) => expect(x).toBeCloseTo(0, 9));
  });
  test('a question with what the cases answered still sums to one, under every hypothesis', () => {
    fc.assert(
      fc.property(fc.array(anyRepeat, { maxLength: 6 }), anyQuestion('a'), (list, q) => {
        const mixed = over(list.map((r, k) => repeat({ ...r, id: `c${k}` }))).mix(q);
        for (let h = 0; h < n; h++) expect(mixed.outcomes.yes[h] + mixed.outcomes.no[h]).toBeCloseTo(1, 9);
      }),
    );
  });
  test('two answers weigh the same in either order', () => {
    fc.assert(
      fc.property(fc.array(anyRepeat, { maxLength: 6 }), anyQuestion('a'), anyQuestion('b'), (list, a, b) => {
        const joint = (first: Question, second: Question): number[] => {
          const repeats = over(list.map((r, k) => repeat({ ...r, id: `c${k}` })));
          const before = repeats.mix(first).outcomes.yes;
          repeats.answered(first, 'yes');
          return repeats.mix(second).outcomes.yes.map((p, h) => p * before[h]);
        };
        const [x, y] = [joint(a, b), joint(b, a)];
        x.forEach((p, h) => expect(p).toBeCloseTo(y[h], 9));
      }),
    );
  });
  test('a case that answered the same gains, and its answer is expected of its circuit', () => {
    const q = question(
      'a',
      hypotheses.map(() => 0.5),
    );
    const repeats = over([repeat({ answers: { a: 'yes', b: 'yes' } })]);
    expect(repeats.mix(q).outcomes.yes[index('rail.run')]).toBeGreaterThan(0.52);
    expect(repeats.mix(q).outcomes.yes[index('display')]).toBeCloseTo(0.5, 9);
    const before = repeats.likeliest(history.over.prior)[0].p;
    repeats.answered(q, 'yes');
    expect(repeats.likeliest(history.over.prior)[0].p).toBeGreaterThan(before);
  });
  test('under less trust the tables are less sharp', () => {
    const usual = hypotheses.map((_, h) => (h === 3 ? 2 : 0));
    const repeats = new Repeats(history, learned([], { trust: { population: null, sharpness: 0.5 } }), usual);
    const added = repeats.increments();
    expect(added[3] - added[4]).toBeCloseTo(-1, 9);
  });
  test('within a circuit the element that was named gains before others', () => {
    const at = (element: string, target: string) => ({
      ...hypotheses[index('rail.run')],
      target,
      share: 0.5,
      place: element,
    });
    const two = [at('x', 'second coil'), at('y', 'memory supply')];
    const over2 = { prior: [0.5, 0.5], none: -1, unmodelled: -1 };
    const added = new Repeats(
      { space: { hypotheses: two } as never, over: over2 },
      learned([repeat({ element: 'second coil' })]),
      [0, 0],
    ).increments();
    expect(added[0]).toBeGreaterThan(added[1]);
  });
});
