import {
  DisplayReader,
  findInPictures,
  isWithin,
  type DisplayReading,
  type Network,
  type Point,
  type Quad,
  type StyleFamily,
} from '@umbral/core/display';
import { drawUnit, usualRun, seededRandom, type Random, type Trace, shippedProfiles } from '@umbral/core';
import settings from './filmed.json';
import { filmTrace } from './filmed-video.ts';

/** What came of the pictures of filmed displays. */
interface FilmedCount {
  pictures: number;
  accepted: number;
  right: number;
  /** Accepted with the digits right and the point in the wrong place. */
  pointWrong: number;
  /** Pictures that were not accepted, by why. */
  doubts: Record<string, number>;
  /** Accepted and wrong: what stood there and what was read. */
  wrong: { kind: string; shown: string; read: number; seed: number }[];
  /** Milliseconds that one number of one picture took to be read, the mean. */
  readMs: number;
}

/**
 * Films a display while a device starts, and reads it as the camera page does.
 *
 * @param seed of the device, the display, the camera
 * @param pictures in all
 * @param now a clock in milliseconds
 */
export function filmDisplay(
  net: Network,
  family: StyleFamily,
  seed: number,
  pictures: number,
  now: () => number,
): FilmedCount {
  const random = seededRandom(seed);
  const trace = someRun(random);
  const fromS = settings.fromS[0] + random() * (settings.fromS[1] - settings.fromS[0]);
  const video = filmTrace(family, trace, fromS, random);
  const reader = new DisplayReader(net, video.framing);
  const count: FilmedCount = { pictures: 0, accepted: 0, right: 0, pointWrong: 0, doubts: {}, wrong: [], readMs: 0 };
  const shown: (readonly [string, string])[] = [];
  let spent = 0;
  for (let n = 0; n < pictures; n++) {
    const { picture, shown: texts } = video.at(n / video.fps);
    shown.push(texts);
    const began = now();
    const reading = reader.take(n, picture);
    spent += now() - began;
    if (reading) tell(count, reading, shown, { kind: video.kind, seed });
  }
  return { ...count, readMs: spent / Math.max(1, 2 * pictures) };
}

/** What was decided on a picture, held against what stood there then. */
function tell(
  count: FilmedCount,
  reading: DisplayReading,
  shown: readonly (readonly [string, string])[],
  of: { kind: string; seed: number },
): void {
  [reading.volts, reading.amps].forEach((value, field) => {
    count.pictures++;
    if (value === null) {
      const doubt = reading.doubts[field] ?? '';
      count.doubts[doubt] = (count.doubts[doubt] ?? 0) + 1;
      return;
    }
    count.accepted++;
    // Where a picture shows both, either is right.
    const around = [0, -1, 1].flatMap((d) => {
      const texts = shown[reading.t + d] as readonly string[] | undefined;
      return texts ? [Number(texts[field])] : [];
    });
    if (around.includes(value)) {
      count.right++;
      return;
    }
    const stood = shown[reading.t][field];
    if (digitsOf(value) === digitsOf(Number(stood)) && digitsOf(value) !== '') count.pointWrong++;
    count.wrong.push({ kind: of.kind, shown: stood, read: value, seed: of.seed });
  });
}

/** What came of looking for the two numbers of a filmed display. */
interface FilmedFind {
  kind: string;
  /** Both were found, each at its place, and nothing else. */
  isRight: boolean;
  found: string[];
  seed: number;
  ms: number;
}

/**
 * Films a display while a device starts, and looks for its numbers in a few pictures, as the camera page does.
 *
 * @param seed of the device, the display, the camera
 * @param now a clock in milliseconds
 */
export function findFilmed(net: Network, family: StyleFamily, seed: number, now: () => number): FilmedFind {
  const random = seededRandom(seed);
  const video = filmTrace(family, someRun(random), settings.find.fromS, random);
  const pictures = settings.find.atS.map((t) => video.at(t).picture);
  const began = now();
  const found = findInPictures(net, pictures);
  const ms = now() - began;
  const [{ width, height }] = pictures;
  const isFound = video.framing.numbers.map(({ corners }) => {
    const place = corners.map(([x, y]): Point => [x * width, y * height]) as unknown as Quad;
    return found.some(({ quad }) => isWithin(middleOf(place), quad) && isWithin(middleOf(quad), place));
  });
  const isRight = found.length === isFound.length && isFound.every(Boolean);
  return { kind: video.kind, isRight, found: found.map((f) => f.reads.text), seed, ms };
}

const middleOf = (quad: Quad): Point =>
  [0, 1].map((k) => quad.reduce((sum, p) => sum + p[k], 0) / quad.length) as unknown as Point;

const digitsOf = (x: number): string =>
  String(x)
    .replace(/[.-]/g, '')
    .replace(/^0+|0+$/g, '');

function someRun(random: Random): Trace {
  const profiles = shippedProfiles.filter((p) => !p.generic && p.battery !== null);
  const profile = profiles[Math.floor(random() * profiles.length)];
  const unit = drawUnit({ profile }, random);
  return usualRun(unit.device, unit.faults, { feed: 'battery', battery: false }, random).trace;
}
