import fc from 'fast-check';
import { whoFeeds, type Feeding } from './who-feeds';

const supply = (volts: number | null, amps: number | null): Feeding => ({ name: 'left', kind: 'supply', volts, amps });
const meter = (volts: number | null, amps: number | null): Feeding => ({ name: 'in line', kind: 'meter', volts, amps });

describe('who feeds the device', () => {
  test('one instrument, or one that shows nothing, tells nothing', () => {
    expect(whoFeeds([supply(4, 1)])).toBeNull();
    expect(whoFeeds([supply(4, 1), meter(null, null)])).toBeNull();
  });

  test.each([
    [supply(0, 0), meter(0.02, 0), 'Nothing powers the device now.'],
    [supply(4, 0.001), meter(0, 0), 'The device draws almost nothing. Available: the supply (left) 4.00 V.'],
    [
      supply(4, 0.001),
      meter(5, 0.0005),
      'The device draws almost nothing. Available: the USB port (in line) 5.00 V, the supply (left) 4.00 V.',
    ],
    [supply(4, 0), meter(5, 1), 'Powered by the USB port (in line): 5.0 W; the supply (left) supplies almost nothing.'],
    [supply(4, 1), meter(5, 0), 'Powered by the supply (left): 4.0 W; the USB port (in line) supplies almost nothing.'],
    [
      supply(4, 1),
      meter(4, 3),
      'Powered from several sources at once: the USB port (in line) 12 W (75 %), the supply (left) 4.0 W (25 %).',
    ],
    // A supply that is charged from the port takes nothing from the device's account.
    [
      supply(4, -0.5),
      meter(5, 1),
      'Powered by the USB port (in line): 5.0 W; the supply (left) supplies almost nothing.',
    ],
  ])('%j and %j', (a, b, says) => expect(whoFeeds([a, b])).toBe(says));

  test('the order of the instruments does not matter', () =>
    fc.assert(
      fc.property(fc.double({ min: 0, max: 3, noNaN: true }), fc.double({ min: 0, max: 3, noNaN: true }), (a, b) => {
        fc.pre(Math.abs(4 * a - 5 * b) > 1e-6);
        expect(whoFeeds([supply(4, a), meter(5, b)])).toBe(whoFeeds([meter(5, b), supply(4, a)]));
      }),
    ));
});
