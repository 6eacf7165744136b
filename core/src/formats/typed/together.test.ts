import { readTypedTogether } from './together.ts';

const key = (k: number): string => `r${k + 1}`;

test('two feeds on one line are two runs; the supply in the battery’s place is the battery that the port sees', () => {
  const [battery, port] = readTypedTogether('battery 4V limit 2A: 0.3 hold + usb-c port 1: 5V 0.5 hold', key);
  expect(battery.run).toMatchObject({ id: 'r1', feed: 'battery', typed: 'battery 4V limit 2A: 0.3 hold' });
  expect(port.run).toMatchObject({
    id: 'r2',
    feed: 'usb-c',
    setup: { port: 1, battery: 'connected', batteryV: 4 },
    extra: { together: ['r1'] },
  });
  expect(port.trace.i.at(-1)).toBeCloseTo(0.5, 6);
});

test('one feed is one run, as it always was; a plus that no feed follows is none', () => {
  expect(readTypedTogether('battery 4V: 0 | prompt 0.3 hold', key)).toHaveLength(1);
  expect(() => readTypedTogether('battery 4V: 0.3 + 0.4', key)).toThrow();
});

test('what is wrong in the second feed is named by its column in the whole line', () => {
  const line = 'battery 4V: 0.3 hold + usb-c port 1: 5V 0.5x hold';
  expect(() => readTypedTogether(line, key)).toThrow(new RegExp(`column ${line.indexOf('0.5x') + 1}`));
});
