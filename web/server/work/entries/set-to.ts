import { formatStatedCurrent, formatVoltage, type Setup } from '@umbral/core';
import type { SetTo } from '@umbral/instruments';

/** What a supply holds to. Volts, amperes. */
type Held = Pick<SetTo, 'volts' | 'limitA'>;

const words = ({ volts, limitA }: Held): string =>
  `${formatVoltage(volts)} with a limit of ${formatStatedCurrent(limitA)}`;
const isSame = (a: Held, b: Held): boolean => a.volts === b.volts && a.limitA === b.limitA;

/**
 * What the supply said that it was set to, for the longest while its output was on.
 *
 * @param endS seconds since the recording began
 * @returns null where it never said so with its output on, as a meter
 */
export function heldFor(setTo: readonly SetTo[], endS: number): Held | null {
  const held: { of: Held; seconds: number }[] = [];
  for (const [k, { t, on, ...of }] of setTo.entries()) {
    if (!on) continue;
    const seconds = (setTo[k + 1]?.t ?? Math.max(endS, t)) - t;
    const known = held.find((h) => isSame(h.of, of));
    if (known) known.seconds += seconds;
    else held.push({ of, seconds });
  }
  if (held.length === 0) return null;
  const { of } = held.reduce((longest, h) => (h.seconds > longest.seconds ? h : longest));
  return { volts: of.volts, limitA: of.limitA };
}

/** What is to be said of a run whose supply was set otherwise than somebody typed, or that was set anew while it was on. */
export function settingNotes(setTo: readonly SetTo[], endS: number, typed: Setup): string[] {
  const held = heldFor(setTo, endS);
  if (!held) return [];
  const differs = (said: number | null, is: number): boolean => said !== null && Math.abs(said - is) > 0.01 * is + 1e-3;
  const isOther = differs(typed.setV, held.volts) || differs(typed.limitA, held.limitA);
  const on = setTo.filter((s) => s.on);
  const changes = on.filter((s, k) => k > 0 && !isSame(s, on[k - 1]));
  return [
    ...(isOther
      ? [`The supply was set to ${words(held)}, not to what the form said. This run uses what the supply reported.`]
      : []),
    ...changes.map((s) => `At ${s.t.toFixed(1)} s the supply was set to ${words(s)}.`),
  ];
}
