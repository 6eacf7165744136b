import type { ReadingMode } from '../case/index.ts';
import { clipText, formatResistance, formatVoltage } from '../quantity/index.ts';
import { parseReading, type EntryContext, type TypedReading } from './entry.ts';
import policy from './measuring.json';

/** One point of a sweep. */
interface SweepPoint {
  where: string;
  reading: TypedReading;
}

/** What came of a line of many points: all of them, with what stands out among them, or where it stops making sense. */
export type Sweep =
  { ok: true; points: SweepPoint[]; asks: string[]; standsOut: string[] } | { ok: false; error: string };

/** A name, then a value with whatever unit, a letter for the mode in front of it unless that is the unit of a name. */
const pointForm =
  // eslint-disable-next-line regexp/no-super-linear-backtracking -- bounded by `longestPoint`
  /^(.*?\S)\s+((?:(?<!\d\s+)[vdr]\s+)?(?:[+-]?[\d.,]+\S*(?:\s*(?:~|\.\.|…)\s*[\d.,]+)?|o\.?l\.?|open)(?:\s*[a-zµΩ]+)?)$/iu;
const maxPoints = 100;
/** A name with its value takes no more characters. */
const longestPoint = 200;

/**
 * Reads many points typed at once, as `coil1 45, coil2 90, coil3 0.4`: names with values, set apart by commas with a
 * space, semicolons or lines. Read as a whole: in one mode, a point far below the middle of the others stands out.
 *
 * @param text what was typed
 * @param context the mode that is set, the leads; a nominal voltage belongs to one rail and is not used
 * @returns every point, or the first that cannot be read with its number and what was expected
 * @example parseSweep('coil1 45, coil2 90, coil3 0.4', { mode: 'resistance', leadsOhm: null, nominalV: null })
 */
export function parseSweep(text: string, context: EntryContext): Sweep {
  const parts = text
    .split(/[;\n]|,\s+/)
    .map((p) => p.trim())
    .filter((p) => p !== '');
  if (parts.length === 0) return { ok: false, error: 'nothing entered; expected points such as coil1 45, coil2 90' };
  if (parts.length > maxPoints)
    return { ok: false, error: `${parts.length} points; enter at most ${maxPoints} at once` };
  const points: SweepPoint[] = [];
  const asks: string[] = [];
  for (const [k, part] of parts.entries()) {
    const match = part.length > longestPoint ? null : pointForm.exec(part);
    if (!match)
      return { ok: false, error: `point ${k + 1}, "${clipText(part)}": expected a name and a value, such as coil1 45` };
    const [, where, value] = match;
    const read = parseReading(value, { ...context, nominalV: null });
    if (!read.ok) return { ok: false, error: `point ${k + 1}, ${clipText(where)}: ${read.error}` };
    const twice = points.find((p) => p.where.toLowerCase() === where.toLowerCase());
    if (twice)
      return { ok: false, error: `point ${k + 1}: ${clipText(where)} is entered twice; enter each point once` };
    points.push({ where, reading: read.reading });
    asks.push(...read.asks.map((ask) => `${clipText(where)}: ${ask}`));
  }
  return { ok: true, points, asks, standsOut: standingOut(points) };
}

/** Points that read far below the others of their mode, in sentences. */
function standingOut(points: readonly SweepPoint[]): string[] {
  const modes: ReadingMode[] = ['voltage', 'diode', 'resistance'];
  return modes.flatMap((mode) => {
    const list = points.filter((p) => p.reading.mode === mode && p.reading.value !== null && !p.reading.ol);
    if (list.length < policy.sweepLeastPoints) return [];
    return list.flatMap((p) => {
      const others = list.filter((q) => q !== p).map((q) => q.reading.value ?? 0);
      const middle = median(others);
      const value = p.reading.value ?? 0;
      if (middle <= 0 || value >= policy.sweepLowShare * middle) return [];
      const say = mode === 'resistance' ? formatResistance : formatVoltage;
      return [`${p.where} reads ${say(value)} where the others read about ${say(middle)}.`];
    });
  });
}

function median(list: readonly number[]): number {
  const sorted = [...list].sort((a, b) => a - b);
  const half = sorted.length / 2;
  return sorted.length % 2 === 1 ? sorted[Math.floor(half)] : (sorted[half - 1] + sorted[half]) / 2;
}
