import fc from 'fast-check';
import Papa from 'papaparse';
import { csvOf } from './csv.ts';

test.each(['=1+1', '=cmd|x\nmore', '\n=1', '\r\n@SUM(1)', ' +1', '\t-2', '＝1', '\u0000=1', '-1\r\n2', '@a'])(
  '%j begins no formula',
  (text) => {
    const [row] = Papa.parse<{ a: string }>(csvOf([{ a: text }]), { header: true }).data;
    expect(row.a.startsWith("'")).toBe(true);
  },
);

test('what is typed comes back as it was, but for a quote in front of formulas; numbers stay numbers', () => {
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.string(), fc.integer()), { minLength: 1 }), (typed) => {
      const text = csvOf(typed.map(([a, n]) => ({ a, n })));
      const { data } = Papa.parse<string[]>(text, { skipEmptyLines: false });
      const rows = data.slice(1, typed.length + 1);
      rows.forEach(([a, n], k) => {
        expect([typed[k][0], `'${typed[k][0]}`]).toContain(a);
        expect(Number(n)).toBe(typed[k][1]);
      });
    }),
  );
});
