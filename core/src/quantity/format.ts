/** What is shown where a value is absent or not finite: never NaN or Infinity. */
export const absent = '–';

/** A number with so many decimals; fewer than none are the tens or hundreds that it is rounded to. */
function fixed(value: number, decimals: number): string {
  const step = decimals < 0 ? 10 ** -decimals : 0;
  const text = (step > 0 ? Math.round(value / step) * step : value).toFixed(Math.max(0, Math.min(9, decimals)));
  return /^-0(\.0*)?$/.test(text) ? text.slice(1) : text;
}

/**
 * Decimals that keep `significant` digits but never claim more than the resolution supports.
 *
 * @returns below 0 where even whole numbers are more than that: -1 for an instrument that shows tens
 */
function decimalsFor(value: number, significant: number, resolution: number): number {
  // Of the value as it will be shown: 999.6 with three digits is a thousand.
  const shown = Number(Math.abs(value).toPrecision(significant));
  const magnitude = shown === 0 ? 0 : Math.floor(Math.log10(shown));
  const wanted = Math.max(0, significant - 1 - magnitude);
  return resolution > 0 ? Math.min(wanted, Math.round(-Math.log10(resolution))) : wanted;
}

/** Steps in which a current is shown where the instrument's are not known, A. */
const finestA = 1e-6;

/**
 * A current for people: milliamperes under one ampere, amperes from there on.
 *
 * @param amperes value in A; anything not finite shows as absent
 * @param resolutionA smallest step of the instrument in A, 0 where unknown
 */
export function formatCurrent(amperes: number | null, resolutionA = 0): string {
  if (amperes === null || !Number.isFinite(amperes)) return absent;
  if (Math.abs(amperes) < Math.max(resolutionA / 2, 5e-6)) return '0 mA';
  const stepA = Math.max(resolutionA, finestA);
  if (Math.abs(amperes) < 0.9995) {
    const milli = amperes * 1000;
    return `${fixed(milli, decimalsFor(milli, 3, stepA * 1000))} mA`;
  }
  return `${fixed(amperes, decimalsFor(amperes, 3, stepA))} A`;
}

/**
 * A set or stated current, without digits that nobody measured: 3 A, 2.5 A, 1 mA. Amperes in, text out.
 *
 * @param amperes null for what was not stated
 * @example formatStatedCurrent(2.5) // '2.5 A'
 */
export function formatStatedCurrent(amperes: number | null): string {
  if (amperes === null || !Number.isFinite(amperes)) return absent;
  const [value, unit] = Math.abs(amperes) < 0.9995 ? [amperes * 1000, 'mA'] : [amperes, 'A'];
  return `${Number(value.toPrecision(4))} ${unit}`;
}

/**
 * A voltage in volts with at most two decimals. Volts in, text out.
 *
 * @param volts null for what was not measured
 * @example formatVoltage(3.9) // '3.90 V'
 */
export function formatVoltage(volts: number | null): string {
  if (volts === null || !Number.isFinite(volts)) return absent;
  return `${fixed(volts, decimalsFor(volts, 3, 0.01))} V`;
}

/**
 * A power: milliwatts under 0.1 W. Watts in, text out.
 *
 * @param watts null for what is not known
 * @example formatPower(0.035) // '35 mW'
 */
export function formatPower(watts: number | null): string {
  if (watts === null || !Number.isFinite(watts)) return absent;
  if (Math.abs(watts) < 0.0995) return `${fixed(watts * 1000, 0)} mW`;
  return `${fixed(watts, decimalsFor(watts, 2, 0.01))} W`;
}

/**
 * A resistance with its prefix. Ohms in, text out.
 *
 * @param ohms null for an open line
 * @example formatResistance(4700) // '4.70 kohm'
 */
export function formatResistance(ohms: number | null): string {
  if (ohms === null || !Number.isFinite(ohms)) return absent;
  // By what is shown: 999.5 ohm with three digits is a thousand.
  if (ohms >= 999.5e3) return `${fixed(ohms / 1e6, decimalsFor(ohms / 1e6, 3, 0))} Mohm`;
  if (ohms >= 999.5) return `${fixed(ohms / 1e3, decimalsFor(ohms / 1e3, 3, 0))} kohm`;
  // Leads and links: a hundredth of an ohm is no longer worth two decimals.
  if (ohms > 0 && ohms < 0.00995) return `${fixed(ohms * 1000, decimalsFor(ohms * 1000, 2, 0.1))} mohm`;
  return `${fixed(ohms, decimalsFor(ohms, 3, 0.01))} ohm`;
}

/**
 * A moment or a span of a run, as a person says it. Seconds in, text out.
 *
 * @param seconds null for what is not known
 * @example formatSeconds(6.2) // '6.2 s'
 */
export function formatSeconds(seconds: number | null): string {
  if (seconds === null || !Number.isFinite(seconds)) return absent;
  const size = Math.abs(seconds);
  if (size < 5e-7) return '0 s';
  if (size < 0.0995) return `${fixed(seconds * 1000, 0)} ms`;
  if (size < 99.5) return `${fixed(seconds, size < 9.95 ? 1 : 0)} s`;
  if (size < 5940) return `${fixed(seconds / 60, size < 600 ? 1 : 0)} min`;
  return `${fixed(seconds / 3600, 1)} h`;
}

/**
 * A probability as a whole percentage, never 0 % or 100 % for something that is merely unlikely or likely.
 *
 * @param p 0 to 1
 */
export function formatPercent(p: number): string {
  if (!Number.isFinite(p)) return absent;
  if (p > 0 && p < 0.01) return '<1 %';
  if (p < 1 && p > 0.99) return '>99 %';
  return `${Math.round(p * 100)} %`;
}

/**
 * A number of things in words: "1 job", "3 jobs".
 *
 * @param plural where it is not the word with an s
 * @example countOf(2, 'donor board') // '2 donor boards'
 */
export function countOf(n: number, one: string, plural = `${one}s`): string {
  return `${n} ${n === 1 ? one : plural}`;
}

/**
 * A name in the middle of a sentence: without its capital, unless it is an abbreviation or holds a number first.
 *
 * @example inSentence('Main rail') // 'main rail'
 * @example inSentence('USB-C controller') // 'USB-C controller'
 */
export function inSentence(name: string): string {
  return /^\p{Lu}\p{Ll}+(?:\s|$)/u.test(name) ? name.charAt(0).toLowerCase() + name.slice(1) : name;
}
