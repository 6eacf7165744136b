import type { NotebookQuery } from '@umbral/core';

/** A number that stands alone: the digits of "mk4a" are part of a name. */
const number = /(?<![\p{L}\p{N}.,-])(\d+(?:[.,]\d+)?|[.,]\d+)\s*(mA|µA|uA|A|V)?(?![\p{L}\p{N}.,-])/giu;
const factors: Record<string, number> = { ma: 1e-3, µa: 1e-6, ua: 1e-6, a: 1 };
/** Words of a typed reading that are no words to look for. */
const grammar = new Set([
  'hold',
  'prompt',
  'limit',
  'port',
  'loop',
  'with-battery',
  'no-battery',
  'flipped',
  'battery',
  'usb-c',
  'dc-in',
]);

/** Why a typed quantity is no level; empty where nothing of the kind was typed. */
export function notALevel(text: string): string {
  const found = /\d\s*(mAh|Ah|Wh|mW|W)\b/i.exec(text);
  if (!found) return '';
  const what = /h$/i.test(found[1]) ? 'a charge or an energy' : 'a power';
  return `${found[1]} is ${what}. Type a level in A or mA.`;
}

/**
 * What is looked for in the notebook, from whatever was typed: "0.19 A", "190 mA at 18 V", "moorcall 0.19", or a whole typed
 * reading, whose last level is meant.
 */
export function notebookQuery(text: string): NotebookQuery {
  let [amps, volts]: (number | null)[] = [null, null];
  const isReading = /[:|]/.test(text);
  const rest = text
    .replace(/limit\s+\S+/gi, ' ')
    .replace(/port\s+\d+/gi, ' ')
    .replace(number, (whole, digits: string, unit: string | undefined, at: number, all: string) => {
      // "Reader 2" is a model; "Reader 0.2" and what stands in a typed reading is a level.
      if (!unit && !isReading && /^\d+$/.test(digits) && /\p{L}\s*$/u.test(all.slice(0, at))) return whole;
      const value = Number(digits.replace(',', '.'));
      if (unit?.toLowerCase() === 'v') volts = value;
      else amps = value * (unit ? factors[unit.toLowerCase()] : 1);
      return ' ';
    });
  const words = rest
    .toLowerCase()
    .split(/[\s:|()]+/)
    .filter((w) => /^(\p{L}[\p{L}\p{N}-]+|\p{N}[\p{L}\p{N}-]*)$/u.test(w) && !grammar.has(w) && w !== 'at');
  return { amps, volts, text: words.join(' ') };
}
