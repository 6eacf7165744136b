import fc from 'fast-check';
import { LineCutter } from './index.ts';

const cut = (pieces: string[]): { lines: string[]; dropped: number } => {
  const lines: string[] = [];
  const cutter = new LineCutter((line) => lines.push(line));
  for (const piece of pieces) cutter.push(piece);
  return { lines, dropped: cutter.dropped };
};

describe('lines', () => {
  test('are the same however the text is cut into pieces', () => {
    const ends = fc.constantFrom('\n', '\r\n', '\r');
    const text = fc.array(fc.tuple(fc.stringMatching(/^[ -~]{1,20}$/), ends), { maxLength: 12 });
    fc.assert(
      fc.property(text, fc.array(fc.nat(200), { maxLength: 10 }), (lines, cuts) => {
        const whole = lines.map(([line, end]) => line + end).join('');
        const places = [0, ...cuts.filter((c) => c < whole.length).sort((a, b) => a - b), whole.length];
        const pieces = places.slice(1).map((end, k) => whole.slice(places[k], end));
        expect(cut(pieces).lines).toEqual(lines.map(([line]) => line));
      }),
    );
  });

  test('half a line waits for its end', () => {
    expect(cut(['3.85']).lines).toEqual([]);
    expect(cut(['3.85', ';0.1\n']).lines).toEqual(['3.85;0.1']);
  });

  test('what never ends is dropped and counted, and the next line is heard again', () => {
    const { lines, dropped } = cut(['x'.repeat(3000), 'x'.repeat(3000), 'x'.repeat(3000), 'tail\n', '0.1\n']);
    expect(lines).toEqual(['0.1']);
    expect(dropped).toBe(1);
  });
});
