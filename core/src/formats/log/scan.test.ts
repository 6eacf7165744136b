import fc from 'fast-check';
import { scanRows, type ScanColumns } from './scan.ts';

const columns: ScanColumns = { delimiter: 44, decimalComma: false, time: 0, voltage: 1, current: 2 };

function scan(block: string, over: Partial<ScanColumns> = {}) {
  const rows: number[][] = [];
  const others: string[] = [];
  scanRows(
    block,
    { ...columns, ...over },
    (t, v, i) => rows.push([t, v, i]),
    (line) => others.push(line),
  );
  return { rows, others };
}

test('numbers are the ones that Number reads', () => {
  const decimal = fc
    .tuple(fc.bigInt({ min: 0n, max: 10n ** 15n - 1n }), fc.nat(15), fc.boolean())
    .map(([m, places, negative]) => {
      const digits = m.toString().padStart(places + 1, '0');
      const text = places === 0 ? digits : `${digits.slice(0, -places)}.${digits.slice(-places)}`;
      return (negative ? '-' : '') + text;
    });
  fc.assert(
    fc.property(fc.array(decimal, { minLength: 3, maxLength: 3 }), (cells) => {
      const { rows, others } = scan(`${cells.join(',')}\n`);
      if (others.length > 0) expect(cells.some((c) => c.replace(/\D/g, '').length > 15)).toBe(true);
      else expect(rows).toEqual([cells.map(Number)]);
    }),
    { numRuns: 2000 },
  );
});

test('empty cells are absent, lines end as they like', () => {
  expect(scan('0,5,0.1\r\n1,,0.2\r\n2, 5 ,.3').rows).toEqual([
    [0, 5, 0.1],
    [1, NaN, 0.2],
    [2, 5, 0.3],
  ]);
});

test('what is no plain number goes on as the line it is', () => {
  const lines = ['1e3,5,0.1', '"1",5,0.1', '1,5 V,0.1', 'total', '1,5', '1,-,2', '1,5,0.1234567890123456', ''];
  for (const line of lines) expect(scan(`${line}\n`)).toEqual({ rows: [], others: [line] });
});

test('columns in any order, others passed over, decimal commas', () => {
  expect(scan('x;0,25;9;1,5\n', { delimiter: 59, decimalComma: true, time: 2, voltage: -1, current: 1 }).rows).toEqual([
    [9, NaN, 0.25],
  ]);
});
