import { gaussianNoise, type Random } from '@umbral/core';
import {
  blankImage,
  blurredImage,
  brightnessAt,
  type GrayImage,
  type Point,
  type Quad,
  invertedProjection,
  projectedPoint,
  projectionOf,
} from '@umbral/core/display';
import settings from './film.json';

/** A camera before a display, as it stands for a whole video. */
export interface Camera {
  width: number;
  height: number;
  /** Corners of the display in its picture. */
  quad: Quad;
  background: number;
  /** How much brighter the light is at the right and at the bottom than at the other side. */
  gradient: readonly [x: number, y: number];
  /** A reflection: its middle and radius in shares of the picture's width, and how much it adds; null for none. */
  glare: { x: number; y: number; radius: number; adds: number } | null;
  /** Pixels. */
  blur: number;
  /** Standard deviation of the brightness of a pixel. */
  noise: number;
  /** Bands of light that wander through the picture since its rows are read one after the other; null for none. */
  band: { depth: number; periods: number } | null;
  exposure: number;
}

const between = ([from, to]: readonly number[], random: Random): number => from + random() * (to - from);

/**
 * A camera by chance: tilted to 25 degrees, light that is not even, now and then a reflection.
 *
 * @param aspect of the display: its width over its height
 */
export function drawCamera(aspect: number, random: Random, size = { width: 640, height: 480 }): Camera {
  const either = (most: number): number => (random() * 2 - 1) * most;
  const { glare, band } = settings;
  return {
    ...size,
    quad: tiltedQuad(aspect, size, random),
    background: between(settings.background, random),
    gradient: [either(settings.gradient), either(settings.gradient)],
    glare:
      random() < glare.share
        ? { x: random(), y: random(), radius: between(glare.radius, random), adds: between(glare.strength, random) }
        : null,
    blur: Math.round(between(settings.blur, random)),
    noise: between(settings.noise, random),
    band: random() < band.share ? { depth: between(band.depth, random), periods: between(band.periods, random) } : null,
    exposure: between(settings.exposure, random),
  };
}

/** A flat display that is turned away from the camera, as its picture shows it. */
function tiltedQuad(aspect: number, { width, height }: { width: number; height: number }, random: Random): Quad {
  const radians = (degrees: number): number => (degrees * Math.PI) / 180;
  const tilt = radians(settings.tilt * Math.sqrt(random()));
  const towards = random() * 2 * Math.PI;
  const [yaw, pitch] = [tilt * Math.cos(towards), tilt * Math.sin(towards)];
  const roll = radians((random() * 2 - 1) * settings.turn);
  const distance = between(settings.distance, random);
  const corners: Point[] = [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ];
  const seen = corners.map(([sx, sy]): Point => {
    const [x, y] = [sx * aspect * 0.5, sy * 0.5];
    const [x1, z1] = [x * Math.cos(yaw), x * Math.sin(yaw)];
    const [y1, z2] = [y * Math.cos(pitch) - z1 * Math.sin(pitch), y * Math.sin(pitch) + z1 * Math.cos(pitch)];
    const [x2, y2] = [x1 * Math.cos(roll) - y1 * Math.sin(roll), x1 * Math.sin(roll) + y1 * Math.cos(roll)];
    const w = distance / (distance + z2 / Math.max(aspect, 1));
    return [x2 * w, y2 * w];
  });
  const [xs, ys] = [seen.map((p) => p[0]), seen.map((p) => p[1])];
  const span = (list: number[]): number => Math.max(...list) - Math.min(...list);
  const scale = Math.min(width / span(xs), height / span(ys)) * (2 / distance + 0.1);
  const [cx, cy] = [
    width * (0.5 + (random() * 2 - 1) * settings.off),
    height * (0.5 + (random() * 2 - 1) * settings.off),
  ];
  return seen.map(([x, y]): Point => [cx + x * scale, cy + y * scale]) as unknown as Quad;
}

/**
 * One picture of a video: a display as a camera sees it.
 *
 * @param display from the front; where there are two, the camera was reading its rows when it changed from one to the other
 * @param changesAt row, as a share of the picture's height, from which the second is seen
 * @param phase of the wandering light, 0 to 1
 */
export function filmedImage(
  camera: Camera,
  display: readonly [GrayImage] | readonly [GrayImage, GrayImage],
  random: Random,
  changesAt = 1,
  phase = 0,
): GrayImage {
  const { width, height, band } = camera;
  const still = stillOf(camera);
  const out = blankImage(width, height);
  for (let y = 0; y < height; y++) {
    const shown = display[1] && y >= changesAt * height ? display[1] : display[0];
    const light = band
      ? 1 - band.depth * (0.5 + 0.5 * Math.sin(2 * Math.PI * (phase + (band.periods * y) / height)))
      : 1;
    for (let k = y * width; k < (y + 1) * width; k++) {
      const [u, v] = [still.u[k], still.v[k]];
      const isOn = u >= 0 && u <= 1 && v >= 0 && v <= 1;
      const b = isOn ? brightnessAt(shown, u * shown.width, v * shown.height) : camera.background;
      out.data[k] = (b * still.gain[k] + still.adds[k]) * light * camera.exposure;
    }
  }
  const soft = blurredImage(out, camera.blur);
  const levels = 255;
  for (let k = 0; k < soft.data.length; k++)
    soft.data[k] =
      Math.round(levels * Math.min(1, Math.max(0, soft.data[k] + camera.noise * gaussianNoise(random)))) / levels;
  return soft;
}

/** What is the same in every picture of a camera: where on the display each pixel looks, and the light there. */
interface Still {
  u: Float64Array;
  v: Float64Array;
  gain: Float64Array;
  adds: Float64Array;
}

const stills = new WeakMap<Camera, Still>();

function stillOf(camera: Camera): Still {
  const known = stills.get(camera);
  if (known) return known;
  const { width, height, quad, gradient, glare } = camera;
  const back = invertedProjection(projectionOf(quad));
  const plane = (): Float64Array => new Float64Array(width * height);
  const still = { u: plane(), v: plane(), gain: plane(), adds: plane() };
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const k = y * width + x;
      [still.u[k], still.v[k]] = projectedPoint(back, [x + 0.5, y + 0.5]);
      still.gain[k] = 1 + gradient[0] * (x / width - 0.5) + gradient[1] * (y / height - 0.5);
      if (!glare) continue;
      const [dx, dy] = [
        (x - glare.x * width) / (glare.radius * width),
        (y - glare.y * height) / (glare.radius * width),
      ];
      still.adds[k] = glare.adds * Math.exp(-dx * dx - dy * dy);
    }
  stills.set(camera, still);
  return still;
}
