import type { DisplayStyle, Ink } from './style.ts';

/** Characters of five dots by seven, a row a string of five. */
const five: Readonly<Record<string, string>> = {
  '0': '01110 10001 10011 10101 11001 10001 01110',
  '1': '00100 01100 00100 00100 00100 00100 01110',
  '2': '01110 10001 00001 00010 00100 01000 11111',
  '3': '11111 00010 00100 00010 00001 10001 01110',
  '4': '00010 00110 01010 10010 11111 00010 00010',
  '5': '11111 10000 11110 00001 00001 10001 01110',
  '6': '00110 01000 10000 11110 10001 10001 01110',
  '7': '11111 00001 00010 00100 01000 01000 01000',
  '8': '01110 10001 10001 01110 10001 10001 01110',
  '9': '01110 10001 10001 01111 00001 00010 01100',
  '-': '00000 00000 00000 11111 00000 00000 00000',
};

/** With corners, and a one that is a bar. */
const square: Readonly<Record<string, string>> = {
  '0': '11111 10001 10001 10001 10001 10001 11111',
  '1': '00100 00100 00100 00100 00100 00100 00100',
  '2': '11110 00001 00001 01110 10000 10000 11111',
  '3': '11110 00001 00001 01110 00001 00001 11110',
  '4': '10010 10010 10010 11111 00010 00010 00010',
  '5': '11111 10000 10000 11110 00001 00001 11110',
  '6': '01111 10000 10000 11110 10001 10001 01110',
  '7': '11111 00001 00001 00001 00001 00001 00001',
  '8': '11111 10001 10001 01110 10001 10001 11111',
  '9': '01110 10001 10001 01111 00001 00001 11110',
  '-': '00000 00000 00000 11111 00000 00000 00000',
};

/** The same with a bar through the nought. */
const barred: Readonly<Record<string, string>> = {
  ...square,
  '0': '11111 10001 10011 10101 11001 10001 11111',
};

/** The same with another hand: no bar in the nought, an upright one, a three of two bows. */
const other: Readonly<Record<string, string>> = {
  ...five,
  '0': '01110 10001 10001 10001 10001 10001 01110',
  '1': '00100 01100 10100 00100 00100 00100 11111',
  '3': '01110 10001 00001 00110 00001 10001 01110',
  '4': '10001 10001 10001 11111 00001 00001 00001',
  '6': '01110 10000 10000 11110 10001 10001 01110',
  '7': '11111 00001 00001 00010 00010 00100 00100',
  '9': '01110 10001 10001 01111 00001 00001 01110',
};

const hands = { plain: five, square, barred, other };

const [columns, rows] = [5, 7];

/** Square or round dots on a grid. */
export function dotsOf({ aspect, thickness, gap, hand }: DisplayStyle): Ink {
  const table = hands[hand];
  const size = 0.5 - gap;
  const isRound = thickness > gap;
  return (char, x, y) => {
    const [column, row] = [Math.floor((x / aspect) * columns), Math.floor(y * rows)];
    if (column < 0 || column >= columns || row < 0 || row >= rows) return false;
    if (table[char]?.split(' ')[row]?.[column] !== '1') return false;
    const [dx, dy] = [(x / aspect) * columns - column - 0.5, y * rows - row - 0.5];
    return isRound ? dx * dx + dy * dy <= size * size * 1.2 : Math.max(Math.abs(dx), Math.abs(dy)) <= size;
  };
}
