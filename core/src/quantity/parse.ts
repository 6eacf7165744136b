import { explainWrongUnit, findUnit, unitOf, type Kind } from './units.ts';

type Parsed = { ok: true; value: number; decimals: number; stated: string | null } | { ok: false; error: string };

// eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longest`
const numberForm = /^([+-]?)(\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE]([+-]?\d{1,3}))?\s*(.*)$/s;

/** No quantity takes more characters. */
const longest = 120;

/** Beyond these a bench reading is a slip of the pen; in SI units. */
export const absurdAbove: Record<Kind, number> = {
  current: 1000,
  voltage: 1000,
  power: 100_000,
  resistance: 1e12,
  time: 1e9,
  frequency: 1e9,
  temperature: 1000,
};

/**
 * Reads one value as a person writes it: `47 mA`, `0.047`, `0,047 A`, `.047a`.
 * A bare number is in the SI unit of `kind`.
 *
 * @param text what was typed
 * @param kind the quantity that belongs here
 * @returns the value in the SI unit, the resolution implied by the digits as `decimals` (a power of ten in the SI
 *   unit: 47 mA has 3), and the unit as it was stated; or an error in words
 */
export function parseQuantity(text: string, kind: Kind): Parsed {
  const wanted = `expected a ${kind} in ${unitOf[kind]}`;
  const trimmed = text.trim();
  if (trimmed === '') return { ok: false, error: `nothing entered; ${wanted}` };
  const match = trimmed.length > longest ? null : numberForm.exec(trimmed);
  if (!match) return { ok: false, error: `"${clipText(trimmed)}" is not a number; ${wanted}` };
  const [, sign, digits, exponent, rest] = match;
  const unitText = rest.trim();
  let factor = 1;
  if (unitText !== '') {
    const wrong = explainWrongUnit(unitText);
    if (wrong) return { ok: false, error: `${wrong}; ${wanted}` };
    const unit = findUnit(unitText);
    if (!unit) return { ok: false, error: `"${clipText(unitText)}" is not a known unit; ${wanted}` };
    if (unit.kind !== kind) return { ok: false, error: `${clipText(unitText)} is a ${unit.kind}; ${wanted}` };
    factor = unit.factor;
  }
  const plain = digits.replace(',', '.');
  const value = Number(`${sign}${plain}${exponent === undefined ? '' : `e${exponent}`}`) * factor;
  if (!Number.isFinite(value) || Math.abs(value) > absurdAbove[kind]) {
    return { ok: false, error: `${clipText(trimmed)} is more than a bench can measure; ${wanted}` };
  }
  const fraction = plain.split('.')[1] ?? '';
  const decimals = fraction.length - Number(exponent ?? 0) - Math.round(Math.log10(factor));
  return { ok: true, value: tidy(value), decimals, stated: unitText || null };
}

/** 47 * 1e-3 is 0.047 to the reader, not 0.047000000000000004. */
function tidy(value: number): number {
  return Number(value.toPrecision(15));
}

/**
 * Shortens foreign text for a message.
 *
 * @param text from outside
 * @param length most characters that are kept
 * @example clipText('a long name', 6) // 'a lon…'
 */
export function clipText(text: string, length = 40): string {
  const plain = text.replace(/[\u0000-\u001f\u007f]/g, ' ');
  return plain.length <= length ? plain : `${plain.slice(0, length - 1)}…`;
}
