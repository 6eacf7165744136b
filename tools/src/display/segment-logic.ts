import { type CharacterBox, type CharacterRow, litSegments } from '@umbral/core/display';
import settings from './segment-logic.json';

/**
 * Tells a character of seven segments by which of them are lit: what the network is held against.
 *
 * @returns null where the lit segments are no character
 */
export function bySegments({ ink, top, bottom }: CharacterRow, { left, right }: CharacterBox): string | null {
  const height = bottom - top;
  const width = right - left;
  const quarter = height / 2 / 2;
  if (width < settings.narrow * height) return '1';
  const { across, along, lit } = settings;
  const thick = across * height;
  const meanOf = (x0: number, x1: number, y0: number, y1: number): number => {
    let [sum, n] = [0, 0];
    for (let y = Math.max(0, Math.round(y0)); y < Math.min(ink.height, Math.round(y1)); y++)
      for (let x = Math.max(0, Math.round(x0)); x < Math.min(ink.width, Math.round(x1)); x++, n++)
        sum += ink.data[y * ink.width + x];
    return n === 0 ? 0 : sum / n;
  };
  const flat = (y: number): number =>
    meanOf(left + (width * (1 - along)) / 2, right - (width * (1 - along)) / 2, y - thick / 2, y + thick / 2);
  const upright = (x: number, y: number): number =>
    meanOf(x - thick / 2, x + thick / 2, y - along * quarter, y + along * quarter);
  const [upper, lower] = [top + quarter, bottom - quarter];
  const seen: Record<string, number> = {
    a: flat(top + thick / 2),
    b: upright(right - thick / 2, upper),
    c: upright(right - thick / 2, lower),
    d: flat(bottom - thick / 2),
    e: upright(left + thick / 2, lower),
    f: upright(left + thick / 2, upper),
    g: flat((top + bottom) / 2),
  };
  const on = Object.keys(seen)
    .filter((s) => seen[s] > lit)
    .join('');
  return Object.keys(litSegments).find((c) => litSegments[c] === on) ?? null;
}
