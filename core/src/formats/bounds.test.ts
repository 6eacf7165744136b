import * as yup from 'yup';
import { readInput } from './bounds.ts';
import { parseCase } from './package/parse.ts';

const entry = yup.object({
  name: yup.string().required(),
  n: yup.number().integer().required(),
  a: yup.string(),
  b: yup.string(),
  c: yup.string(),
});
const schema = yup.object({
  list: yup.array().of(entry).max(100, 'list: at most a hundred').required(),
  any: yup.mixed(),
  inner: yup.object({ free: yup.array().of(yup.number().required()).default([]) }),
});
const refusal = (value: unknown): yup.ValidationError => {
  try {
    readInput(schema, value);
  } catch (error) {
    return error as yup.ValidationError;
  }
  throw new Error('it was taken');
};
/** How long somebody else waits for this process, ms. */
const stall = (work: () => unknown): number => {
  const { user, system } = process.cpuUsage();
  work();
  const after = process.cpuUsage();
  return (after.user - user + (after.system - system)) / 1000;
};

describe('what comes from outside', () => {
  test('is read as its schema says', () => {
    expect(readInput(schema, { list: [{ name: 'a', n: 1 }], inner: {} })).toEqual({
      list: [{ name: 'a', n: 1 }],
      inner: { free: [] },
    });
  });

  test('is not looked at where the schema does not speak of it', () => {
    const more = new Array(500_000).fill({});
    expect(stall(() => readInput(schema, { list: [], inner: {}, more }))).toBeLessThan(50);
  });

  test('is said to be wrong in all its places where it is small, and in the first where it is large', () => {
    expect(refusal({ list: [{}, {}], inner: {} }).errors).toHaveLength(4);
    const many = Array.from({ length: 100 }, () => ({ name: '', n: 0.5 }));
    expect(refusal({ list: many, inner: {} }).errors).toHaveLength(1);
  });

  test.each([
    [
      'a list that names its most',
      { list: Array.from({ length: 200_000 }, () => ({})), inner: {} },
      'list: too many entries; expected at most 100',
    ],
    [
      'one that names none',
      { list: [], inner: { free: new Array(300_000).fill(1) } },
      'inner.free: too many entries; expected at most 1,000',
    ],
    [
      'values without end, each list of them short',
      { list: [], inner: {}, any: Array.from({ length: 600 }, () => new Array(900).fill(1)) },
      'expected at most 400,000 values',
    ],
  ])('%s is counted before it is looked at', (_, value, says) => {
    expect(stall(() => expect(refusal(value).message).toContain(says))).toBeLessThan(400);
  });

  /** Where a case is wrong that has so many entries of nothing, and how long that took to say. */
  const said = (list: string, count: number): { places: string[]; took: number } => {
    const entries = Array.from({ length: count }, () => ({}));
    const value = { format: 'umbral-case/1', id: 'x', device: { class: 'phone' }, [list]: entries };
    let places: string[] = [];
    const took = stall(() => (places = parseCase(value).findings.map((f) => `${f.place}: ${f.message}`)));
    return { places, took };
  };

  test('a case with 200,000 empty checks is refused at once, in one sentence', () => {
    const { places, took } = said('checks', 200_000);
    expect(places).toEqual(['checks: too many entries; expected at most 1,000']);
    expect(took).toBeLessThan(600);
  });

  test('of a thousand wrong entries a hundred are said, and the rest are not looked at', () => {
    const { places, took } = said('readings', 1000);
    expect(places).toHaveLength(100);
    expect(places.join(' ')).toContain('readings[3].where');
    expect(took).toBeLessThan(1500);
  });
});
