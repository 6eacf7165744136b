import fc from 'fast-check';
import { cropped, croppedPreview, panned, windowWithin, zoomed } from './window';

const whole = { t0: -5, t1: 95 };
const anyStretch = fc
  .tuple(fc.double({ min: -200, max: 200, noNaN: true }), fc.double({ min: 0, max: 300, noNaN: true }))
  .map(([t0, width]) => ({ t0, t1: t0 + width }));

describe('a part of a run', () => {
  test('always lies inside the run, and is as wide as was wanted where that is possible', () =>
    fc.assert(
      fc.property(anyStretch, (wanted) => {
        const part = windowWithin(whole, wanted);
        if (part === null) return expect(wanted.t1 - wanted.t0).toBeGreaterThanOrEqual(100 - 1e-9);
        expect(part.t0).toBeGreaterThanOrEqual(whole.t0);
        expect(part.t1).toBeLessThanOrEqual(whole.t1 + 1e-9);
        expect(part.t1 - part.t0).toBeCloseTo(Math.max(wanted.t1 - wanted.t0, 1e-4), 6);
      }),
    ));

  test('closer and further again is where it was; moving there and back too', () => {
    const part = { t0: 10, t1: 20 };
    expect(zoomed(part, 0.5)).toEqual({ t0: 12.5, t1: 17.5 });
    expect(zoomed(zoomed(part, 0.5), 2)).toEqual(part);
    expect(panned(panned(part, 0.25), -0.25)).toEqual(part);
    expect(windowWithin(whole, zoomed(whole, 2))).toBeNull();
  });

  test('what is known of it is taken from the whole', () => {
    const values = Array.from({ length: 100 }, (_, k) => k);
    expect(cropped(values, whole, { t0: 5, t1: 15 }, 10)).toEqual([10, 11, 12, 13, 14, 15, 16, 17, 18, 19]);
    expect(cropped(values, whole, whole, 100)).toEqual(values);
    expect(cropped([null, 1], whole, { t0: -5, t1: 0 }, 2)).toEqual([null, null]);
    const preview = { ...whole, low: values, mean: values, high: values, volts: values };
    expect(croppedPreview(preview, { t0: 45, t1: 46 })).toMatchObject({ t0: 45, t1: 46 });
    expect(croppedPreview(preview, { t0: 45, t1: 46 }).mean).toEqual(values.map(() => 50));
  });
});
