import fc from 'fast-check';
import { courseLength } from './course.ts';
import { distanceOf } from './distance.ts';
import { featureTypes } from './features.ts';
import { SignatureIndex } from './search.ts';
import settings from './settings.json';
import { comparableKey, type LibraryCase, type Signature } from './signature.ts';

const setup = { quantity: 'current', prompted: true, battery: false, otherwise: '', port: 1, flipped: false } as const;

const numbers = (length: number, min: number, max: number) =>
  fc.array(fc.float({ min, max, noNaN: true }), { minLength: length, maxLength: length });

/** Courses that wander, as power does, rather than noise that no lower bound holds back. */
const course = numbers(courseLength, -1, 1).map((steps) => {
  let level = 2;
  return Float32Array.from(steps, (s) => (level = Math.max(0, level + s)));
});

const signature: fc.Arbitrary<Signature> = fc.record({
  run: fc.constant('r1'),
  setup: fc.constantFrom('battery' as const, 'usb-c' as const).map((feed) => ({ ...setup, feed })),
  features: fc
    .array(fc.option(fc.float({ min: 0, max: 4, noNaN: true }), { freq: 6 }), {
      minLength: featureTypes.length,
      maxLength: featureTypes.length,
    })
    .map((list) => Float32Array.from(list, (x) => x ?? Number.NaN)),
  blurs: numbers(featureTypes.length, 0, 1).map((list) => Float32Array.from(list)),
  course: fc.oneof({ weight: 5, arbitrary: course }, { weight: 1, arbitrary: fc.constant(new Float32Array(0)) }),
});

const bare = {
  origin: null,
  model: 'm',
  deviceClass: 'phone',
  circuit: 'rail.main',
  element: '',
  part: '',
  cure: '',
  grade: 'measured',
  weight: 1,
  answers: {},
  scores: [],
  closedAt: 0,
  says: '',
} as const;
const caseWith = (signatures: Signature[], id = 'c'): LibraryCase => ({ ...bare, id, signatures });
const library = fc.array(
  fc.array(signature, { minLength: 1, maxLength: 3 }).map((s) => caseWith(s)),
  { maxLength: 60 },
);

/** All runs by their distance, one after the other. */
function bruteForce(
  cases: readonly LibraryCase[],
  query: Signature,
): { squared: number; case: number; signature: number }[] {
  return cases
    .flatMap((one, c) =>
      one.signatures.map((s, k) => ({ case: c, signature: k, run: s, squared: distanceOf(query, s) })),
    )
    .filter(({ run }) => comparableKey(run.setup) === comparableKey(query.setup))
    .sort((a, b) => a.squared - b.squared)
    .map(({ case: at, signature: k, squared }) => ({ case: at, signature: k, squared }));
}

/** The warping as its definition has it: the whole table, no bound, nothing given up. */
function plainWarping(a: Float32Array, b: Float32Array): number {
  const n = a.length;
  const cost = Array.from({ length: n + 1 }, () => new Array<number>(n + 1).fill(Infinity));
  cost[0][0] = 0;
  for (let i = 1; i <= n; i++)
    for (let j = Math.max(1, i - settings.course.band); j <= Math.min(n, i + settings.course.band); j++)
      cost[i][j] = (a[i - 1] - b[j - 1]) ** 2 + Math.min(cost[i - 1][j], cost[i][j - 1], cost[i - 1][j - 1]);
  return cost[n][n];
}

describe('nearest runs', () => {
  test('are those that one gets by holding against every run, whatever the library holds', () => {
    fc.assert(
      fc.property(library, signature, fc.integer({ min: 1, max: 12 }), (cases, query, count) => {
        const found = new SignatureIndex(cases).nearest(query, count);
        const expected = bruteForce(cases, query).slice(0, count);
        expect(found.map((n) => n.squared)).toEqual(expected.map((n) => n.squared));
        expect(found).toEqual(expected);
      }),
      { numRuns: 200 },
    );
  });
  test('the same in a library that is larger than the first look', () => {
    fc.assert(
      fc.property(fc.array(signature, { minLength: 4, maxLength: 12 }), signature, (kinds, query) => {
        const many = Array.from({ length: 3 * settings.firstLook }, (_, k) => {
          const like = kinds[k % kinds.length];
          return caseWith([{ ...like, features: like.features.map((x, f) => x + ((k * (f + 3)) % 17) / 40) }]);
        });
        const found = new SignatureIndex(many).nearest(query, 10);
        expect(found).toEqual(bruteForce(many, query).slice(0, 10));
      }),
      { numRuns: 25 },
    );
  });
  test('leave out what may not count, and what is too far away', () => {
    fc.assert(
      fc.property(library, signature, (cases, query) => {
        const index = new SignatureIndex(cases);
        const even = index.nearest(query, 5, { among: (place) => place % 2 === 0 });
        expect(even.every((n) => n.case % 2 === 0)).toBe(true);
        const near = index.nearest(query, 5, { within: 30 });
        expect(near).toEqual(
          bruteForce(cases, query)
            .filter((n) => n.squared <= 30)
            .slice(0, 5),
        );
      }),
    );
  });
  test('a library without cases has none, and none are asked for in vain', () => {
    const [query] = fc.sample(signature, { numRuns: 1, seed: 1 });
    expect(new SignatureIndex([]).nearest(query, 5)).toEqual([]);
    expect(new SignatureIndex([caseWith([query])]).nearest(query, 0)).toEqual([]);
    expect(new SignatureIndex([caseWith([query])]).size).toBe(1);
  });
});

describe('distance of two runs', () => {
  test('its warping is that of the definition', () => {
    const steps = settings.course.worth / courseLength / settings.course.scale ** 2;
    fc.assert(
      fc.property(course, course, signature, (a, b, s) => {
        const d = distanceOf({ ...s, course: a }, { ...s, course: b });
        expect(d).toBeCloseTo(steps * plainWarping(a, b), 6);
      }),
    );
  });
  test('is nothing for the same run, and the same both ways', () => {
    fc.assert(
      fc.property(signature, signature, (a, b) => {
        if (a.course.length > 0) expect(distanceOf(a, a)).toBe(0);
        expect(distanceOf(a, b)).toBeCloseTo(distanceOf(b, a), 9);
      }),
    );
  });
});
