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

/** Levels that a text says, with what is left of it; a whole typed reading means its last level. */
function levelsOf(text: string, isLevel: (digits: string, unit: string | undefined, before: string) => boolean) {
  let [amps, volts]: (number | null)[] = [null, null];
  const rest = text
    .replace(/limit\s+\S+/gi, ' ')
    .replace(/port\s+\d+/gi, ' ')
    .replace(number, (whole, digits: string, unit: string | undefined, at: number, all: string) => {
      if (!isLevel(digits, unit, all.slice(0, at))) return whole;
      const value = Number(digits.replace(',', '.'));
      if (unit?.toLowerCase() === 'v') volts = value;
      else amps = value * (unit ? factors[unit.toLowerCase()] : 1);
      return ' ';
    });
  return { amps, volts, rest };
}

const isReading = (text: string): boolean => /[:|]/.test(text);
const isWhole = (digits: string): boolean => /^\d+$/.test(digits);

/**
 * What is looked for in the notebook, from whatever was typed: "0.19 A", "190 mA at 18 V", "moorcall 0.19", or a whole typed
 * reading, whose last level is meant.
 */
export function notebookQuery(text: string): NotebookQuery {
  const { amps, volts, rest } = levelsOf(
    text,
    // "Reader 2" is a model; "Reader 0.2" and what stands in a typed reading is a level.
    (digits, unit, before) => unit !== undefined || isReading(text) || !isWhole(digits) || !/\p{L}\s*$/u.test(before),
  );
  const words = rest
    .toLowerCase()
    .split(/[\s:|()]+/)
    .filter((w) => /^(\p{L}[\p{L}\p{N}-]+|\p{N}[\p{L}\p{N}-]*)$/u.test(w) && !grammar.has(w) && w !== 'at');
  return { amps, volts, text: words.join(' ') };
}

/** Words that say nothing of what is looked for. */
const fillers = new Set(['at', 'a', 'an', 'the', 'of', 'with', 'and', 'on', 'in', 'job']);

/** What is looked for everywhere: a level has its unit or a decimal point, since a number alone may be a job's. */
export function searchQuery(text: string): { amps: number | null; volts: number | null; words: string[] } {
  const { amps, volts, rest } = levelsOf(
    text,
    (digits, unit) => unit !== undefined || isReading(text) || !isWhole(digits),
  );
  const words = rest.toLowerCase().split(/[^\p{L}\p{N}]+/u);
  return {
    amps,
    volts,
    words: words.filter((w) => w !== '' && !fillers.has(w) && !(isReading(text) && grammar.has(w))),
  };
}
