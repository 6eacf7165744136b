import {
  checksumKinds,
  checksumOf,
  checksums,
  FrameCutter,
  fieldOf,
  hexOf,
  numberTypeNames,
  numberTypes,
  readFrameDialect,
  type ByteOrder,
  type FrameDialect,
} from '../dialect/index.ts';
import policy from './teach.json';

/** How frames are cut: all of a dialect but its fields. */
export type Framing = Pick<FrameDialect, 'start' | 'end' | 'length' | 'checksum'>;

/** A guess with what it stands on. */
export interface GuessedFraming {
  framing: Framing;
  /** Share of the bytes that are in whole frames, 0 to 1. */
  covers: number;
  frames: number;
}

export type GuessedField = FrameDialect['fields']['volts'];

/**
 * Guesses how frames are cut, from what a meter sent in a minute: bytes that come again at even distances are the beginning,
 * a byte that grows with the distance is the length, and whatever of the usual checksums holds for nearly every frame is the
 * checksum.
 *
 * @param afterPause places of bytes that came after a pause: where they are known, a frame begins there
 * @returns the likeliest first; empty where no even distance is found
 */
export function guessFraming(bytes: Uint8Array, afterPause: readonly number[] = []): GuessedFraming[] {
  const pauses = new Set(afterPause);
  const guesses: (GuessedFraming & { begun: number })[] = [];
  for (const { at, start, lengths } of beginnings(bytes)) {
    for (const length of lengths) {
      const frames = at.flatMap((from, k) => {
        const size = 'fixed' in length ? length.fixed : bytes[from + length.at] + length.plus;
        // What begins the next one where this ends is a frame; a beginning by chance is followed by none.
        const isFollowed = at.includes(from + size, k + 1);
        return size >= policy.shortest && isFollowed ? [bytes.subarray(from, from + size)] : [];
      });
      if (frames.length < policy.leastFrames) continue;
      const framing = withChecksum(start, length, frames);
      const begun = frames.filter((f) => pauses.has(f.byteOffset - bytes.byteOffset)).length / frames.length;
      if (framing) guesses.push({ ...judged(framing, bytes), begun });
    }
  }
  const checked = (g: GuessedFraming): number => (g.framing.checksum.kind === 'none' ? 0 : 1);
  return guesses
    .filter((g) => g.covers >= policy.leastCovered)
    .sort(
      (a, b) =>
        checked(b) - checked(a) ||
        Math.round((b.covers - a.covers) * policy.coverSteps) ||
        // A frame that is turned, its end in front or its beginning behind, is as whole; a pause tells which is first.
        Math.round((b.begun - a.begun) * policy.coverSteps) ||
        a.framing.end.length - b.framing.end.length ||
        a.framing.checksum.from - b.framing.checksum.from ||
        b.framing.start.length - a.framing.start.length,
    )
    .slice(0, policy.mostGuesses)
    .map(({ begun: _, ...guess }) => guess);
}

interface Beginning {
  at: number[];
  start: Uint8Array;
  lengths: Framing['length'][];
}

/** Sequences of bytes that begin something again and again, with the lengths that they would have. */
function beginnings(bytes: Uint8Array): Beginning[] {
  const out: Beginning[] = [];
  const places = new Map<number, number[]>();
  for (let k = 0; k + 1 < bytes.length; k++) {
    const two = bytes[k] * 256 + bytes[k + 1];
    const list = places.get(two);
    if (list) list.push(k);
    else places.set(two, [k]);
  }
  const byOne = new Map<number, number[]>();
  bytes.forEach((b, k) => {
    const list = byOne.get(b);
    if (list) list.push(k);
    else byOne.set(b, [k]);
  });
  const likely = [
    ...[...places].map(([two, at]) => ({ start: Uint8Array.of(two >> 8, two & 0xff), at })),
    ...[...byOne].map(([one, at]) => ({ start: Uint8Array.of(one), at })),
  ].filter(({ at }) => at.length >= policy.leastFrames);
  for (const { start, at } of likely) {
    const gaps = at.slice(1).map((to, k) => to - at[k]);
    const lengths = [...fixedLength(gaps), ...lengthFields(bytes, at, gaps)];
    if (lengths.length > 0) out.push({ at, start, lengths });
  }
  return out;
}

/** The distance that most of the bytes lie in; a byte of the start that comes by chance in between splits one now and then. */
function fixedLength(gaps: readonly number[]): Framing['length'][] {
  const [length, times] = mostFrequent(gaps);
  const isUsual = times * length >= policy.sharedGap * gaps.reduce((sum, gap) => sum + gap, 0);
  return isUsual && length >= policy.shortest && length <= policy.longest ? [{ fixed: length }] : [];
}

/** A byte near the beginning that says how far it is to the next. */
function lengthFields(bytes: Uint8Array, at: readonly number[], gaps: readonly number[]): Framing['length'][] {
  if (new Set(gaps).size < 2) return [];
  const out: Framing['length'][] = [];
  for (let k = 1; k <= policy.lengthWithin; k++) {
    const [plus, times] = mostFrequent(gaps.map((gap, n) => gap - bytes[at[n] + k]));
    if (times >= policy.sharedGap * gaps.length && plus >= 0 && plus <= policy.mostPlus)
      out.push({ at: k, type: 'u8', order: 'big', plus, most: policy.longest });
  }
  return out;
}

/** The framing with the checksum that nearly every frame has; with none where none holds and the start is of two bytes. */
function withChecksum(start: Uint8Array, length: Framing['length'], frames: readonly Uint8Array[]): Framing | null {
  const some = frames.slice(0, policy.checkedFrames);
  for (const kind of strongestFirst)
    for (const order of ['little', 'big'] as ByteOrder[])
      for (let fromEnd = 0; fromEnd <= policy.mostAfter; fromEnd++)
        for (let from = 0; from <= policy.mostBefore; from++) {
          const checksum = { kind, from, fromEnd, order };
          const holds = (frame: Uint8Array): boolean => {
            const { at, is, expected } = checksumOf(frame, checksum);
            return at > from && is === expected;
          };
          // A sum over nothing but zeros holds for every frame; one that never changes proves nothing.
          if (some.slice(0, policy.firstChecked).filter(holds).length < policy.firstChecked / 2) continue;
          if (some.filter(holds).length < policy.holdsFor * some.length) continue;
          if (new Set(some.map((f) => checksumOf(f, checksum).is)).size < policy.leastSums) continue;
          return { start: hexOf(start), end: endOf(some, fromEnd), length, checksum };
        }
  return start.length < 2 ? null : { start: hexOf(start), end: '', length, checksum: noChecksum };
}

/** The low byte of a sum of two is a sum of one as well: the wider is the right one. */
const strongestFirst = checksumKinds
  .filter((k) => k !== 'none')
  .sort((a, b) => checksums[b].bytes - checksums[a].bytes);

const noChecksum: Framing['checksum'] = { kind: 'none', from: 0, fromEnd: 0, order: 'big' };

/** The bytes that follow the checksum in nearly every frame. */
function endOf(frames: readonly Uint8Array[], fromEnd: number): string {
  if (fromEnd === 0) return '';
  const [end, times] = mostFrequent(frames.map((f) => hexOf(f.subarray(f.length - fromEnd))));
  return times >= policy.holdsFor * frames.length ? end : '';
}

/** What comes most often, and how often. */
function mostFrequent<T>(list: readonly T[]): [T, number] {
  const counts = new Map<T, number>();
  for (const x of list) counts.set(x, (counts.get(x) ?? 0) + 1);
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best));
}

const anyFields = {
  volts: { at: 0, type: 'u8', order: 'big', scale: 1, offset: 0, mask: null },
  amps: { at: 1, type: 'u8', order: 'big', scale: 1, offset: 0, mask: null },
  seconds: null,
} as const;

/** A dialect that cuts frames in this way, before its fields are known. */
function cutsLike(framing: Framing): FrameDialect {
  const of = { format: 'umbral-frames/1', id: 'taught', name: 'taught', resolutionV: 0.01, resolutionA: 0.01 };
  return readFrameDialect({ ...of, ...framing, fields: anyFields });
}

/** Frames in what a meter sent. */
export function framesIn(bytes: Uint8Array, framing: Framing): Uint8Array[] {
  const frames: Uint8Array[] = [];
  new FrameCutter(cutsLike(framing), (frame) => frames.push(frame)).push(bytes);
  return frames;
}

function judged(framing: Framing, bytes: Uint8Array): GuessedFraming {
  const frames = framesIn(bytes, framing);
  const covered = frames.reduce((sum, f) => sum + f.length, 0);
  return { framing, covers: covered / bytes.length, frames: frames.length };
}

/**
 * Guesses where in a frame a value stands, from what the display showed at a few moments.
 *
 * @param shown what the display showed, each with the frame that had arrived
 * @param frames others, in which the value must be possible as well
 * @param most the largest value that is possible, volts or amperes
 * @returns the likeliest first; more than one where the moments do not tell them apart
 */
export function guessFields(
  shown: readonly { frame: Uint8Array; value: string }[],
  frames: readonly Uint8Array[],
  most: number,
): GuessedField[] {
  const typed = shown.map(({ frame, value }) => ({ frame, ...typedValue(value) }));
  if (typed.length === 0 || typed.some((t) => Number.isNaN(t.value))) return [];
  const shortest = Math.min(...typed.map((t) => t.frame.length));
  const found: { field: GuessedField; off: number }[] = [];
  for (const type of numberTypeNames)
    for (const order of (numberTypes[type].bytes === 1 ? ['big'] : ['big', 'little']) as ByteOrder[])
      for (let at = 0; at + numberTypes[type].bytes <= shortest; at++)
        for (const scale of type === 'f32' ? [1, 0.001] : policy.scales) {
          const field: GuessedField = { at, type, order, scale, offset: 0, mask: null };
          const off = typed.map((t) => Math.abs(fieldOf(t.frame, field) - t.value) / t.step);
          if (!off.every((x) => x <= policy.withinSteps)) continue;
          if (!frames.every((f) => Math.abs(fieldOf(f, field)) <= most)) continue;
          found.push({ field, off: off.reduce((sum, x) => sum + x, 0) });
        }
  // Finer steps first, then as many bytes as there are: high bytes that are zero now are not zero for ever.
  return found
    .sort(
      (a, b) =>
        a.field.scale - b.field.scale ||
        numberTypes[b.field.type].bytes - numberTypes[a.field.type].bytes ||
        a.off - b.off,
    )
    .map(({ field }) => field);
}

/** A number as it stands on a display, and its smallest step. */
function typedValue(text: string): { value: number; step: number } {
  const plain = text.trim().replace(',', '.');
  const digits = /^-?\d+(?:\.(\d+))?$/.exec(plain);
  return digits ? { value: Number(plain), step: 10 ** -(digits[1]?.length ?? 0) } : { value: NaN, step: 1 };
}
