import fc from 'fast-check';
import { inputAmps, shortOhm, throughLeads } from './leads.ts';

test('worked: 0.9 ohm shown with leads of 0.4 ohm is 0.5 ohm', () => {
  expect(throughLeads(0.9, 0.4).ohm).toBeCloseTo(0.5);
  expect(throughLeads(0.9, 0.4).isExact).toBe(true);
});

test('a reading as low as the leads only says "no more than this"', () => {
  expect(throughLeads(0.42, 0.4)).toMatchObject({ isExact: false });
  expect(throughLeads(0.3, 0.4)).toEqual({ ohm: 0, isExact: false });
});

test('taking leads off never adds and never goes below zero', () => {
  const ohms = fc.double({ min: 0, max: 1e6, noNaN: true });
  fc.assert(
    fc.property(ohms, ohms, (shown, leads) => {
      const { ohm } = throughLeads(shown, leads);
      expect(ohm).toBeGreaterThanOrEqual(0);
      expect(ohm).toBeLessThanOrEqual(shown);
    }),
  );
  expect(() => throughLeads(-1, 0.2)).toThrow(RangeError);
  expect(() => throughLeads(1, NaN)).toThrow(RangeError);
});

test('worked: 0.9 V and 1.5 A through leads of 0.2 ohm is a short of 0.4 ohm', () => {
  expect(shortOhm({ volts: 0.9, amps: 1.5, leadsOhm: 0.2, limiting: false })).toEqual({
    ohm: expect.closeTo(0.4) as number,
    isBound: false,
  });
});

test('a supply in its limit whose voltage was only set bounds it; without current nothing is told', () => {
  expect(shortOhm({ volts: 4, amps: 2, leadsOhm: 0.2, limiting: true, voltsAreSet: true }).isBound).toBe(true);
  expect(shortOhm({ volts: 0.6, amps: 2, leadsOhm: 0.2, limiting: true }).isBound).toBe(false);
  expect(() => shortOhm({ volts: 4, amps: 0, leadsOhm: 0, limiting: false })).toThrow(/without a current/);
});

test('worked: 0.4 A at 1.8 V through 90 % is 0.21 A at 3.8 V; power in is power out over the efficiency', () => {
  expect(inputAmps({ outV: 1.8, outA: 0.4, inV: 3.8, efficiency: 0.9 })).toBeCloseTo(0.2105, 4);
  const some = fc.double({ min: 0.1, max: 20, noNaN: true });
  fc.assert(
    fc.property(some, some, some, fc.double({ min: 0.3, max: 1, noNaN: true }), (outV, outA, inV, efficiency) => {
      expect(inputAmps({ outV, outA, inV, efficiency }) * inV * efficiency).toBeCloseTo(outV * outA, 6);
    }),
  );
  expect(() => inputAmps({ outV: 1, outA: 1, inV: 0, efficiency: 0.9 })).toThrow(RangeError);
  expect(() => inputAmps({ outV: 1, outA: 1, inV: 4, efficiency: 1.1 })).toThrow(RangeError);
});
