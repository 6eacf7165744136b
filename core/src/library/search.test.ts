import fc from 'fast-check';
import { courseLength } from './course.ts';
import { distanceOf } from './distance.ts';
import { featureTypes } from './features.ts';
import { SignatureIndex } from './search.ts';
import settings from './settings.json';
import { comparableKey, type Signature } from './signature.ts';

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

const runs = fc.array(signature, { maxLength: 120 });

const indexOf = (list: readonly Signature[]): SignatureIndex => {
  const index = new SignatureIndex();
  for (const one of list) index.add(one);
  return index;
};

/** All runs by their distance, one after the other. */
function bruteForce(list: readonly Signature[], query: Signature): { run: number; squared: number }[] {
  return list
    .map((one, run) => ({ run, squared: distanceOf(query, one), key: comparableKey(one.setup) }))
    .filter(({ key }) => key === comparableKey(query.setup))
    .sort((a, b) => a.squared - b.squared || a.run - b.run)
    .map(({ run, squared }) => ({ run, squared }));
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
  test('are those that one gets by holding against every run, whatever there is', () => {
    fc.assert(
      fc.property(runs, signature, fc.integer({ min: 1, max: 12 }), (list, query, count) => {
        expect(indexOf(list).nearest(query, count)).toEqual(bruteForce(list, query).slice(0, count));
      }),
      { numRuns: 200 },
    );
  });
  test('the same where there are more than the first look takes', () => {
    fc.assert(
      fc.property(fc.array(signature, { minLength: 4, maxLength: 12 }), signature, (kinds, query) => {
        const many = Array.from({ length: 3 * settings.firstLook }, (_, k) => {
          const like = kinds[k % kinds.length];
          return { ...like, features: like.features.map((x, f) => x + ((k * (f + 3)) % 17) / 40) };
        });
        expect(indexOf(many).nearest(query, 10)).toEqual(bruteForce(many, query).slice(0, 10));
      }),
      { numRuns: 25 },
    );
  });
  test('leave out what may not count, and what is too far away', () => {
    fc.assert(
      fc.property(runs, signature, (list, query) => {
        const index = indexOf(list);
        const even = index.nearest(query, 5, { among: (run) => run % 2 === 0 });
        expect(even).toEqual(
          bruteForce(list, query)
            .filter((n) => n.run % 2 === 0)
            .slice(0, 5),
        );
        const near = index.nearest(query, 5, { within: 30 });
        expect(near).toEqual(
          bruteForce(list, query)
            .filter((n) => n.squared <= 30)
            .slice(0, 5),
        );
      }),
    );
  });
  test('are the same after others were taken out, and every run is given back as it was', () => {
    fc.assert(
      fc.property(runs, runs, signature, (list, later, query) => {
        const index = indexOf(list);
        list.forEach((_, k) => (k % 3 === 0 ? index.remove(k) : undefined));
        const kept = new Map<number, Signature>(list.flatMap((one, k) => (k % 3 === 0 ? [] : [[k, one]])));
        for (const one of later) kept.set(index.add(one), one);
        expect(index.size).toBe(kept.size);
        for (const [run, one] of kept) expect(index.signatureOf(run)).toEqual(one);
        const numbers = [...kept.keys()];
        const expected = bruteForce([...kept.values()], query).map(({ run, squared }) => ({
          run: numbers[run],
          squared,
        }));
        expected.sort((a, b) => a.squared - b.squared || a.run - b.run);
        expect(index.nearest(query, 8)).toEqual(expected.slice(0, 8));
      }),
    );
  });
  test('where there is none none is found, and none are asked for in vain', () => {
    const [query] = fc.sample(signature, { numRuns: 1, seed: 1 });
    expect(new SignatureIndex().nearest(query, 5)).toEqual([]);
    expect(indexOf([query]).nearest(query, 0)).toEqual([]);
    expect(indexOf([query]).size).toBe(1);
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
