import fc from 'fast-check';
import { parseCase } from '../formats/package/parse.ts';
import { columnOf, defaultsOf, fromColumns, toColumns, type Field, type Fields } from './record.ts';
import { checkFields, injectionFields, proofFields, readingFields } from './records.ts';
import { plainReading } from './defaults.ts';

const records: Record<string, Fields> = { checkFields, readingFields, injectionFields, proofFields };

/** Any value that a field may hold. */
function valueOf({ kind, byDefault, choices = [] }: Field<unknown>): fc.Arbitrary<unknown> {
  const some: fc.Arbitrary<unknown> = {
    id: fc.string({ minLength: 1 }),
    name: fc.string({ minLength: 1 }),
    text: fc.string(),
    flag: fc.boolean(),
    number: fc.double({ noNaN: true }),
    choice: fc.constantFrom(...choices, ...(choices.length === 0 ? [''] : [])),
    names: fc.array(fc.string()),
    span: fc.record({ low: fc.double({ noNaN: true }), high: fc.double({ noNaN: true }) }),
  }[kind];
  return byDefault === undefined ? some : fc.oneof(some, fc.constant(byDefault));
}

describe.each(Object.entries(records))('the record of %s', (_name, fields) => {
  test('comes back from its columns as it went', () => {
    const values = fc.record(Object.fromEntries(Object.entries(fields).map(([key, of]) => [key, valueOf(of)])));
    fc.assert(
      fc.property(values, (value) => {
        const row = toColumns(fields, value);
        expect(Object.keys(row)).toEqual(Object.entries(fields).map(([key, of]) => columnOf(key, of)));
        expect(fromColumns(fields, row)).toEqual(value);
      }),
    );
  });

  test('has no two fields in one column, and names columns as a database does', () => {
    const columns = Object.entries(fields).map(([key, of]) => columnOf(key, of));
    expect(new Set(columns).size).toBe(columns.length);
    for (const column of columns) expect(column).toMatch(/^[a-z][a-z0-9_]*$/);
  });

  test('holds what it must be given apart from what has a default', () => {
    const known = Object.keys(defaultsOf(fields));
    for (const [key, of] of Object.entries(fields)) expect(known.includes(key)).toBe(of.byDefault !== undefined);
  });
});

test('a reading says what is missing and what is expected, field by field, from its definition', () => {
  const read = (reading: object) => {
    const found = parseCase({ format: 'umbral-case/1', id: 'x', device: { class: 'phone' }, readings: [reading] });
    return found.findings.map(({ place, message }) => `${place}: ${message}`).join('\n');
  };
  const good = { where: 'io', mode: 'voltage', value: 1.8 };
  expect(read(good)).not.toMatch(/readings\[0\]/);
  expect(read({ ...good, where: undefined })).toMatch(/readings\[0\]\.where: .*missing/);
  expect(read({ ...good, leadsOhm: -1 })).toMatch(/readings\[0\]\.leadsOhm: must not be negative/);
  expect(read({ ...good, swing: { low: 1 } })).toMatch(/swing\.high: is missing; expected a number/);
  expect(read({ ...good, redProbe: 'hand' })).toMatch(/redProbe: expected one of ground, point/);
  expect(plainReading).toMatchObject({ ol: false, across: false, redProbe: null, after: null });
});
