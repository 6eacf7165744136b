import fc from 'fast-check';
import { correctReading, fitCalibration, sayCalibration, type CalibrationPoint } from '../index.ts';

const point = (trusted: number, shown: number, spread = 0): CalibrationPoint => ({ trusted, shown, spread });

describe('calibrating against a trusted meter', () => {
  test('two points give the line through both', () => {
    // Worked by hand: 1.02 - 0.012 = 1.008 over 1 A; nothing connected shows 12 mA.
    const { gain, offset, misfit } = fitCalibration([point(0, 0.012), point(1, 1.02)], 'current');
    expect(gain).toBeCloseTo(1.008, 12);
    expect(offset).toBeCloseTo(0.012, 12);
    expect(misfit).toBeCloseTo(0, 12);
  });

  test('whatever a straight instrument shows of the points is corrected to the truth, in any order', () => {
    const straight = fc.record({
      gain: fc.double({ min: 0.91, max: 1.09, noNaN: true }),
      offset: fc.double({ min: -0.3, max: 0.3, noNaN: true }),
      values: fc.uniqueArray(fc.integer({ min: 0, max: 40 }), { minLength: 2, maxLength: 6 }),
    });
    fc.assert(
      fc.property(straight, ({ gain, offset, values }) => {
        const points = values.map((v) => point(v, v * gain + offset, 0.0001));
        const found = fitCalibration(points, 'voltage');
        for (const p of points) expect(correctReading(p.shown, found.gain, found.offset)).toBeCloseTo(p.trusted, 6);
        expect(fitCalibration([...points].reverse(), 'voltage').gain).toBeCloseTo(found.gain, 9);
      }),
    );
  });

  test.each([
    [[point(1, 1)], 'Two points are needed'],
    [[point(1, 1), point(1.02, 1.02)], 'The points are 0.02 A apart; at least 0.1 A are needed'],
    [[point(0, 0), point(1, NaN)], 'Every point needs'],
    [[point(0, 0, 0.2), point(1, 1)], 'The readings swing by 0.2 A'],
    [[point(0, 0), point(1, 0.001)], 'shows 0.001 times the true value'],
    [[point(0, 0), point(1, -1)], 'shows -1 times the true value'],
    [[point(0, 0), point(1, 1), point(2, 2.2)], 'off a straight line'],
  ])('%j is refused in words', (points, message) => {
    expect(() => fitCalibration(points, 'current')).toThrow(message);
  });

  test.each([
    [1, 0, 'reads correctly'],
    [1.015, 0.004, 'shows 1.5 % and 4 mA too much'],
    [0.98, -0.01, 'shows 2.0 % and 10 mA too little'],
    [1.02, -0.01, 'shows 2.0 % too much and 10 mA too little'],
    [1, 0.02, 'shows 20 mA too much'],
    [0.97, 0, 'shows 3.0 % too little'],
  ])('gain %p and offset %p %s', (gain, offset, says) => {
    expect(sayCalibration({ gain, offset }, 'current')).toBe(says);
  });
});
