import type { DisplayStyle, Ink } from './style.ts';

/** Segments that are lit for each character: top, upper right, lower right, bottom, lower left, upper left, middle. */
export const litSegments: Readonly<Record<string, string>> = {
  '0': 'abcdef',
  '1': 'bc',
  '2': 'abdeg',
  '3': 'abcdg',
  '4': 'bcfg',
  '5': 'acdfg',
  '6': 'acdefg',
  '7': 'abc',
  '8': 'abcdefg',
  '9': 'abcdfg',
  '-': 'g',
};

/** Seven bars with bevelled ends. */
export function segmentsOf({ aspect, thickness, gap, missing }: DisplayStyle): Ink {
  const half = thickness / 2;
  const [left, right] = [half, aspect - half];
  const lines = { a: half, g: 0.5, d: 1 - half };
  const bar = (along: number, across: number, from: number, to: number): boolean => {
    const off = Math.abs(across);
    return off <= half && along >= from + gap + off && along <= to - gap - off;
  };
  const isIn: Record<string, (x: number, y: number) => boolean> = {
    a: (x, y) => bar(x, y - lines.a, left, right),
    g: (x, y) => bar(x, y - lines.g, left, right),
    d: (x, y) => bar(x, y - lines.d, left, right),
    f: (x, y) => bar(y, x - left, lines.a, lines.g),
    b: (x, y) => bar(y, x - right, lines.a, lines.g),
    e: (x, y) => bar(y, x - left, lines.g, lines.d),
    c: (x, y) => bar(y, x - right, lines.g, lines.d),
  };
  return (char, x, y) => {
    for (const s of litSegments[char] ?? '') if (s !== missing && isIn[s](x, y)) return true;
    return false;
  };
}
