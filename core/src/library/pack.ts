import { courseLength } from './course.ts';
import { featureTypes } from './features.ts';
import type { Signature, SignatureSetup } from './signature.ts';

/** Moves with everything that changes what a stored number means. */
export const signatureFormat = 1;

const each = Float32Array.BYTES_PER_ELEMENT;
const bytesOf = (hasCourse: boolean): number => each * (2 * featureTypes.length + (hasCourse ? courseLength : 0));

/**
 * The numbers of a signature in one block: features, blurs, course; 32-bit floats, little-endian.
 *
 * @returns its length tells whether there is a course
 */
export function packSignature({
  features,
  blurs,
  course,
}: Pick<Signature, 'features' | 'blurs' | 'course'>): Uint8Array {
  const view = new DataView(new ArrayBuffer(bytesOf(course.length > 0)));
  [...features, ...blurs, ...course].forEach((x, k) => view.setFloat32(each * k, x, true));
  return new Uint8Array(view.buffer);
}

/**
 * A signature from its block.
 *
 * @param run id of the run
 * @throws {RangeError} for a block that is not as long as one, or that holds what no run can show
 */
export function unpackSignature(run: string, setup: SignatureSetup, data: Uint8Array): Signature {
  const hasCourse = data.byteLength === bytesOf(true);
  if (!hasCourse && data.byteLength !== bytesOf(false))
    throw new RangeError(`is ${data.byteLength} bytes long; expected ${bytesOf(false)} or ${bytesOf(true)}`);
  const view = new DataView(data.buffer, data.byteOffset, data.byteLength);
  const at = (from: number, count: number): Float32Array =>
    Float32Array.from({ length: count }, (_, k) => view.getFloat32(each * (from + k), true));
  const n = featureTypes.length;
  const signature = {
    run,
    setup,
    features: at(0, n),
    blurs: at(n, n),
    course: at(2 * n, hasCourse ? courseLength : 0),
  };
  if (signature.features.some((x) => Math.abs(x) === Number.POSITIVE_INFINITY))
    throw new RangeError('contains an infinite feature');
  if (![...signature.blurs, ...signature.course].every((x) => x >= 0 && Number.isFinite(x)))
    throw new RangeError('contains a power that is not a number or is negative');
  return signature;
}
