import fc from 'fast-check';
import { statedRate } from './rate.ts';

test.each([
  ['Sample rate: 10 Hz', 10],
  ['Sampling rate = 2,5 Hz', 2.5],
  ['rate=4/s', 4],
  ['fs = 1 kHz', 1000],
  ['4 samples per second', 4],
  ['Samples per second: 4', 4],
  ['Readings/s: 20', 20],
  ['interval = 100 ms', 10],
  ['Sample interval 250 ms', 4],
  ['dt: 0.5 s', 2],
  ['Logged every 2 seconds', 0.5],
  ['Interval (ms): 250', 4],
  ['Rate [Hz]: 50', 50],
  ['20 Sa/s', 20],
  ['Rate: 10 S/s', 10],
  ['10 SPS', 10],
  ['2 kSa/s', 2000],
  ['5 samples/sec', 5],
  ['40 readings per sec', 40],
])('%s', (line, rate) => expect(statedRate(['Bench log', line])).toBeCloseTo(rate, 9));

test.each(['Operator: bench 4', 'Firmware 1.2', 'Sample rate: 0 Hz', 'Interval (ms): 0', 'Resolution 4 digits', ''])(
  'states no rate: %j',
  (line) => expect(statedRate([line])).toBeNull(),
);

test('an interval and its rate say the same', () => {
  fc.assert(
    fc.property(fc.integer({ min: 1, max: 5000 }), (ms) => {
      expect(statedRate([`Interval: ${ms} ms`])).toBeCloseTo(1000 / ms, 6);
    }),
  );
});
