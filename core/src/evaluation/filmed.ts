import {
  drawScene,
  FieldSequence,
  filmed,
  readField,
  type Decided,
  type GrayImage,
  type Network,
  type StyleFamily,
} from '../display/index.ts';
import { drawUnit, usualRun } from '../practice/index.ts';
import { seededRandom, type Random, type Trace } from '../trace/index.ts';
import { shippedProfiles } from '../twin/index.ts';
import settings from './filmed.json';

/** What came of the pictures of filmed displays. */
export interface FilmedCount {
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
 * Films a display while a device starts, and reads it: V over A, of a style, tilted, with glare, noise, bands, and half-changed
 * pictures.
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
  const scene = drawScene(family, random);
  const trace = someRun(random);
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)];
  const fps = pick(settings.fps);
  const refreshHz = settings.refreshHz[0] + random() * (settings.refreshHz[1] - settings.refreshHz[0]);
  const decimals = { volts: pick(settings.voltDecimals), amps: pick(settings.ampDecimals) };
  const from = settings.fromS[0] + random() * (settings.fromS[1] - settings.fromS[0]);
  const textsAt = (t: number): [string, string] => {
    const shownAt = Math.floor(t * refreshHz) / refreshHz;
    const k = nearest(trace, from + shownAt);
    return [trace.v[k].toFixed(decimals.volts), Math.max(0, trace.i[k]).toFixed(decimals.amps)];
  };
  const drawn = new Map<string, GrayImage>();
  const draw = (texts: [string, string]): GrayImage => {
    const key = texts.join(' ');
    const known = drawn.get(key) ?? scene.draw(...texts);
    drawn.set(key, known);
    return known;
  };
  const count: FilmedCount = { pictures: 0, accepted: 0, right: 0, pointWrong: 0, doubts: {}, wrong: [], readMs: 0 };
  const sequences = [new FieldSequence(decimals.volts), new FieldSequence(decimals.amps)];
  const shown: [string, string][] = [];
  let [spent, reads] = [0, 0];
  for (let n = 0; n < pictures; n++) {
    const t = n / fps;
    const texts = textsAt(t);
    const was = textsAt(Math.max(0, t - settings.readoutS));
    const hasChanged = was.join() !== texts.join();
    const changesAt = hasChanged ? random() : 1;
    shown.push(hasChanged && changesAt > 1 / 2 ? was : texts);
    const both = hasChanged ? ([draw(was), draw(texts)] as const) : ([draw(texts)] as const);
    const picture = filmed(scene.camera, both, random, changesAt, (t * settings.bandHz) % 1);
    scene.fields.forEach((quad, f) => {
      const began = now();
      const seen = readField(net, picture, quad, f === 0 ? decimals.volts : decimals.amps);
      spent += now() - began;
      reads++;
      const decided = sequences[f].next(n, seen);
      if (decided) tell(count, decided, f, shown, scene.style.kind, seed);
    });
  }
  sequences.forEach((s, f) => {
    const decided = s.end();
    if (decided) tell(count, decided, f, shown, scene.style.kind, seed);
  });
  return { ...count, readMs: spent / Math.max(1, reads) };
}

/** What was decided on a picture, held against what stood there then. */
function tell(
  count: FilmedCount,
  { t, value, doubt }: Decided,
  field: number,
  shown: readonly [string, string][],
  kind: string,
  seed: number,
): void {
  count.pictures++;
  if (value === null) {
    count.doubts[doubt ?? ''] = (count.doubts[doubt ?? ''] ?? 0) + 1;
    return;
  }
  count.accepted++;
  // Where a picture shows both, either is right.
  const around = [shown[t], shown[t - 1], shown[t + 1]].flatMap((s) => (s ? [Number(s[field])] : []));
  const stood = shown[t][field];
  if (around.includes(value)) {
    count.right++;
    return;
  }
  const digits = (x: number | string): string =>
    String(x)
      .replace(/[.-]/g, '')
      .replace(/^0+|0+$/g, '');
  if (digits(value) === digits(Number(stood)) && digits(value) !== '') count.pointWrong++;
  count.wrong.push({ kind, shown: stood, read: value, seed });
}

function someRun(random: Random): Trace {
  const profiles = shippedProfiles.filter((p) => !p.generic && p.battery !== null);
  const profile = profiles[Math.floor(random() * profiles.length)];
  const unit = drawUnit({ profile }, random);
  return usualRun(unit.device, unit.faults, { feed: 'battery', battery: false }, random).trace;
}

function nearest({ t }: Trace, at: number): number {
  let k = 0;
  while (k < t.length - 1 && t[k + 1] <= at) k++;
  return k;
}
