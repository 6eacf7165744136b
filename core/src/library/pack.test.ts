import fc from 'fast-check';
import { courseLength } from './course.ts';
import { featureTypes } from './features.ts';
import { packSignature, unpackSignature } from './pack.ts';
import type { SignatureSetup } from './signature.ts';

const setup: SignatureSetup = {
  feed: 'battery',
  quantity: 'current',
  battery: false,
  prompted: true,
  otherwise: '',
  port: 1,
  flipped: false,
};
const n = featureTypes.length;
const list = (length: number, min: number) =>
  fc.array(fc.float({ min, max: 100, noNaN: true }), { minLength: length, maxLength: length });
const any = fc.record({
  features: fc.array(fc.oneof(fc.float({ min: -50, max: 50, noNaN: true }), fc.constant(Number.NaN)), {
    minLength: n,
    maxLength: n,
  }),
  blurs: list(n, 0),
  course: fc.oneof(list(courseLength, 0), fc.constant([])),
});

describe('packed signatures', () => {
  test('come back as they were', () => {
    fc.assert(
      fc.property(any, ({ features, blurs, course }) => {
        const made = {
          features: Float32Array.from(features),
          blurs: Float32Array.from(blurs),
          course: Float32Array.from(course),
        };
        expect(unpackSignature('r1', setup, packSignature(made))).toEqual({ run: 'r1', setup, ...made });
      }),
    );
  });
  const whole = packSignature({
    features: new Float32Array(n),
    blurs: new Float32Array(n),
    course: new Float32Array(courseLength),
  });
  test('a block that is too short says how long it should be', () => {
    expect(() => unpackSignature('r1', setup, whole.slice(0, 17))).toThrow(/is 17 bytes long; expected/);
  });
  test('a block with what no run can show is refused', () => {
    const damaged = whole.slice();
    damaged.set([0xff, 0xff, 0xff, 0xff], damaged.length - 4);
    expect(() => unpackSignature('r1', setup, damaged)).toThrow('a power that is not a number');
    const infinite = whole.slice();
    infinite.set([0, 0, 0x80, 0x7f], 0);
    expect(() => unpackSignature('r1', setup, infinite)).toThrow('infinite');
  });
});
