import { gaussianNoise, type Random } from '@umbral/core';
import { brightnessAt } from '@umbral/core/display';
import settings from './vary.json';

/**
 * The same cell as another camera might see it: moved, stretched, leaning, thicker or thinner, with light that falls off and
 * noise. A classifier that sees each cell anew in every pass learns characters rather than pictures.
 *
 * @param cell a square of ink, 0 to 1
 */
export function variedCell(cell: Float32Array, random: Random): Float32Array {
  const size = Math.sqrt(cell.length);
  const image = { width: size, height: size, data: cell };
  const either = (most: number): number => (random() * 2 - 1) * most;
  const [dx, dy] = [either(settings.shift) * size, either(settings.shift) * size];
  const [sx, sy, shear] = [1 + either(settings.scale), 1 + either(settings.scale), either(settings.shear)];
  // What bends grey towards black makes strokes thinner, towards white thicker.
  const [least, most] = settings.bend;
  const bend = least * (most / least) ** random();
  const towards = 2 * Math.PI * random();
  const fade = settings.fade * random();
  const spot = random() < settings.spotShare ? { x: random() * size, y: random() * size } : null;
  const out = new Float32Array(cell.length);
  const half = size / 2;
  for (let y = 0; y < size; y++)
    for (let x = 0; x < size; x++) {
      const [u, v] = [x + 0.5 - half, y + 0.5 - half];
      const ink = Math.max(0, brightnessAt(image, half + u * sx + shear * v + dx, half + v * sy + dy)) ** bend;
      const light = 1 - fade * (0.5 + (0.5 * (u * Math.cos(towards) + v * Math.sin(towards))) / half);
      const near = spot ? Math.exp(-(((x - spot.x) ** 2 + (y - spot.y) ** 2) / (settings.spot * size) ** 2)) : 0;
      out[y * size + x] = Math.min(
        1,
        Math.max(0, ink * light * (1 - near / 2) + settings.noise * gaussianNoise(random)),
      );
    }
  return out;
}
