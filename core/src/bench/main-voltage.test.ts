import { parseMainVoltage } from './main-voltage.ts';

test.each([
  ['', null],
  ['8.6 V', 8.6],
  ['12', 12],
  ['2 cells', 7.7],
  ['three cells', 11.55],
  ['1 cell', 3.85],
])('%j is %p volts', (text, volts) => expect(parseMainVoltage(text)).toEqual({ ok: true, volts }));

test.each([
  ['9 cells', /1 to 6 cells/],
  ['some cells', /1 to 6 cells/],
  ['0', /more than 0/],
  ['230 V', /at most 60 V/],
  ['12 ohm', /or cells such as 2 cells/],
])('%j is refused', (text, says) => {
  const read = parseMainVoltage(text);
  expect(read.ok ? '' : read.error).toMatch(says);
});
