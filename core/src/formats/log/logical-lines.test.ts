import fc from 'fast-check';
import { logicalLines } from './logical-lines.ts';

test('a heading that goes on over several lines is one line, and where it began is known', () => {
  const lines = ['Bench log', '"Time', '(s)","Voltage', '(V)"', '0,5', '1,5'];
  expect(logicalLines(lines)).toEqual([
    { text: 'Bench log', at: 0 },
    { text: '"Time (s)","Voltage (V)"', at: 1 },
    { text: '0,5', at: 4 },
    { text: '1,5', at: 5 },
  ]);
});

test('a lone quotation mark takes nothing with it', () => {
  const lines = ['Screen of 5" size', 'Time,Current', '0,1', '1,2'];
  expect(logicalLines(lines).map((line) => line.text)).toEqual(lines);
});

test('lines without a quotation mark, or with closed ones, stay as they are', () => {
  const closed = fc.string().map((s) => s.replace(/["\n\r]/g, ''));
  fc.assert(
    fc.property(
      fc.array(
        fc.oneof(
          closed,
          closed.map((s) => `"${s}"`),
        ),
      ),
      (lines) => {
        expect(logicalLines(lines)).toEqual(lines.map((text, at) => ({ text, at })));
      },
    ),
  );
});
