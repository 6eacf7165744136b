import { notALevel, notebookQuery } from './ask';

test.each([
  ['0.19 A', { amps: 0.19, volts: null, text: '' }],
  ['0,19', { amps: 0.19, volts: null, text: '' }],
  ['190 mA at 18 V', { amps: 0.19, volts: 18, text: '' }],
  ['moorcall 0.19 power-good', { amps: 0.19, volts: null, text: 'moorcall power-good' }],
  ['battery 4V limit 2A: 0 | prompt 0.1 0.25 0.35 hold', { amps: 0.35, volts: 4, text: '' }],
  ['usb-c port 1: 5V 0.07 hold', { amps: 0.07, volts: 5, text: '' }],
  ['reader mwz5vb6v 9a5 4a-2', { amps: null, volts: null, text: 'reader mwz5vb6v 9a5 4a-2' }],
  ['moorcall 2 at 0.19', { amps: 0.19, volts: null, text: 'moorcall 2' }],
  ['moorcall 2 A', { amps: 2, volts: null, text: 'moorcall' }],
  ['', { amps: null, volts: null, text: '' }],
])('%s', (text, expected) => {
  const { amps, ...rest } = notebookQuery(text);
  expect(rest).toEqual({ volts: expected.volts, text: expected.text });
  if (expected.amps === null) expect(amps).toBeNull();
  else expect(amps).toBeCloseTo(expected.amps, 9);
});

test.each([
  ['190 mAh', /mAh is a charge or an energy/],
  ['3.6 Wh moorcall', /Wh is a charge/],
  ['2 W', /W is a power/],
  ['190 mA', /^$/],
  ['0,19 moorcall', /^$/],
])('%s: what is no level is said', (text, says) => {
  expect(notALevel(text)).toMatch(says);
});
